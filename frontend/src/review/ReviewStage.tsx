import { Box } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import type { SpanView } from "../api/types";
import { useFound, WithSpan } from "../desk/spans";
import { useAtHand, useDesk, useScene } from "../desk/state";
import { Layers, useShownFrame } from "../stage/Layers";
import { Mark } from "../stage/Mark";
import { Paper } from "../stage/Paper";

/** The scene as it will be; where a take is compared, with that beside it. */
export function ReviewStage() {
  const { first } = useAtHand();
  const other = useOtherTake();
  const found = useFound();
  if (!other || !first) return <Shown name="stage" />;
  return (
    <Box sx={{ flex: 1, display: "flex", minWidth: 0 }}>
      <Beside title={`${first.span.take.name}, in use`} distortion={found[first.id]?.balance.whole}>
        <Shown name="stage" />
      </Beside>
      <Box sx={{ width: 6, bgcolor: "divider" }} />
      <Beside title={other.take.name} distortion={other.found?.balance.whole}>
        <WithSpan span={other}>
          <Shown name="other-take" />
        </WithSpan>
      </Beside>
    </Box>
  );
}

function Shown({ name }: { name: string }) {
  const frame = useShownFrame();
  return (
    <Paper name={name} over={(lens) => <Mark lens={lens} />}>
      {() => <Layers frame={frame} />}
    </Paper>
  );
}

type BesideProps = { title: string; distortion: number | undefined; children: React.ReactNode };

function Beside({ title, distortion, children }: BesideProps) {
  return (
    <Box sx={{ flex: 1, minWidth: 0, display: "flex", position: "relative" }}>
      {children}
      <Box
        sx={{
          position: "absolute",
          top: 8,
          left: 12,
          px: 1,
          py: 0.25,
          borderRadius: 1,
          bgcolor: "background.paper",
          border: 1,
          borderColor: "divider",
          fontSize: 12,
          pointerEvents: "none",
        }}
      >
        <b>{title}</b>
        {distortion !== undefined && ` · distortion ${distortion.toFixed(2)}`}
      </Box>
    </Box>
  );
}

/** The span at hand as the take that it is compared with would have it, once that is worked out. */
function useOtherTake(): SpanView | null {
  const scene = useScene();
  const { first, second } = useAtHand();
  const compared = useDesk((s) => s.compared);
  const take = compared?.key === first?.id && first?.span.others.find((t) => t.name === compared?.name);
  const { data } = useQuery({
    queryKey: [
      "take",
      scene.id,
      first?.id,
      first?.drawing,
      second?.drawing,
      first?.frame,
      second?.frame,
      take,
    ],
    queryFn: () => {
      const { doc } = useDesk.getState();
      if (!doc || !first || !take) throw new Error("no take is compared");
      const operation = { type: "use_take", key: first.id, name: take.name } as const;
      return api.preview(scene.id, doc.revision, operation, first.id, true);
    },
    enabled: !!take,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (take && data) || null;
}
