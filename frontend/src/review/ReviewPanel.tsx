import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { Pause, Play } from "lucide-react";
import { actions } from "../desk/actions";
import { Hollow, Section } from "../desk/Section";
import { SnagList } from "../desk/SnagList";
import { useFound, useSpans } from "../desk/spans";
import { useDesk, usePicked, useScene } from "../desk/state";
import { TakesSection } from "../desk/TakesSection";

const SPEEDS = [0.25, 0.5, 1, 2];

export function ReviewPanel({ kept }: { kept: number | null }) {
  const scene = useScene();
  const { playing, speed, set, loop, thereAndBack } = usePicked(
    "playing",
    "speed",
    "set",
    "loop",
    "thereAndBack",
  );
  const spans = useSpans();
  const found = useFound();
  const [from, to] = loop ?? [1, scene.length];
  const unsure = scene.layers.flatMap((layer) =>
    layer.keys.flatMap((key) =>
      key.span.inbetween
        ? (spans[key.id]?.pairs ?? [])
            .filter((p) => p.confidence < 0.45)
            .map((p) => ({ layer, key, pair: p }))
        : [],
    ),
  );
  const snags = scene.layers
    .filter((layer) => !layer.hidden)
    .flatMap((layer) =>
      layer.keys.flatMap((key) =>
        key.span.inbetween ? (found[key.id]?.snags ?? []).map((snag) => ({ layer, snag })) : [],
      ),
    )
    .toSorted((a, b) => b.snag.severity - a.snag.severity);
  return (
    <>
      <Section title="Playback">
        <Box sx={{ display: "flex", gap: 1, pt: 0.5, alignItems: "center" }}>
          <Button
            variant="contained"
            startIcon={playing ? <Pause size={16} /> : <Play size={16} />}
            onClick={() => set({ playing: !playing })}
          >
            {playing ? "Stop" : "Play"}
          </Button>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={speed}
            onChange={(_, value) => value && set({ speed: value })}
            aria-label="Speed"
          >
            {SPEEDS.map((s) => (
              <ToggleButton key={s} value={s} sx={{ py: 0.25, px: 1 }}>
                {s === 0.25 ? "¼" : s === 0.5 ? "½" : s}×
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Box>
        <Typography sx={{ pt: 1 }}>
          {from === 1 && to === scene.length ? "The whole scene" : `Frames ${from} to ${to}`},{" "}
          {thereAndBack ? "there and back" : "round and round"}, at {scene.rate * speed} frames a second.
        </Typography>
        <Typography
          data-testid="keeps-up"
          sx={{
            pt: 0.5,
            color: kept !== null && kept < 0.95 ? "warning.main" : "success.main",
            minHeight: 24,
          }}
        >
          {kept === null
            ? ""
            : kept < 0.95
              ? `This machine shows only ${Math.round(kept * 100)} % of the frames; the timing is still true.`
              : "Every frame is shown at its time."}
        </Typography>
      </Section>
      <TakesSection />
      <Section title="To look at">
        {unsure.length + snags.length === 0 && (
          <Hollow>Every shape of the scene has found a sure partner, and nothing looks wrong.</Hollow>
        )}
        <SnagList
          snags={snags.map(({ layer, snag }) => ({ snag, where: layer.name }))}
          onLook={(k) => {
            const found = snags[k];
            if (found) actions.lookAt(found.snag, found.layer.id);
          }}
        />
        {unsure.map(({ layer, key, pair }) => {
          const name =
            nameOf(key.drawing, pair.first) ??
            nameOf(layer.keys[layer.keys.indexOf(key) + 1]?.drawing, pair.second) ??
            "a shape";
          return (
            <Button
              key={`${key.id} ${pair.first} ${pair.second}`}
              color="inherit"
              sx={{ display: "block", textAlign: "left", width: "100%", fontWeight: 400, lineHeight: 1.35 }}
              onClick={() => look(layer.id, key.frame, { first: pair.first, second: pair.second })}
            >
              <b>{name}</b> on {layer.name}, from {key.frame}:{" "}
              {!pair.second ? "vanishes, not sure" : !pair.first ? "appears, not sure" : "its pair is unsure"}
            </Button>
          );
        })}
      </Section>
    </>
  );
}

const nameOf = (drawing: string | undefined, shape: string | null) =>
  drawing && shape
    ? useDesk.getState().drawings[drawing]?.shapes.find((s) => s.id === shape)?.name
    : undefined;

function look(
  layer: string,
  frame: number,
  pair: { first: string | null; second: string | null } | null = null,
) {
  useDesk.getState().set({ layer, view: "match", pair, playing: false });
  actions.goTo(frame);
}
