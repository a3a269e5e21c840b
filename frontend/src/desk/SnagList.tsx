import { Box, ButtonBase, Typography } from "@mui/material";
import type { SnagView } from "../api/types";

const framesOf = (snag: SnagView) => {
  const [first, last] = [snag.frames[0], snag.frames.at(-1)];
  return first === last ? `frame ${first}` : `frames ${first} to ${last}`;
};

type Props = { snags: { snag: SnagView; where?: string }[]; onLook: (index: number) => void };

/** Snags, each with how bad it is as a bar; a click goes to its frame. */
export function SnagList({ snags, onLook }: Props) {
  return snags.map(({ snag, where }, k) => (
    <ButtonBase
      // biome-ignore lint/suspicious/noArrayIndexKey: snags have no identity of their own
      key={k}
      data-testid="snag"
      onClick={() => onLook(k)}
      sx={{
        display: "flex",
        gap: 1,
        width: "100%",
        alignItems: "stretch",
        textAlign: "left",
        py: 0.5,
        borderRadius: 1,
        "&:hover": { bgcolor: "action.hover" },
      }}
    >
      <Box
        aria-label={`Severity ${Math.round(snag.severity * 100)} of 100`}
        sx={{ width: 5, borderRadius: 1, bgcolor: "divider", display: "flex", alignItems: "flex-end" }}
      >
        <Box
          sx={{
            width: 5,
            height: `${100 * snag.severity}%`,
            minHeight: 4,
            bgcolor: "error.main",
            borderRadius: 1,
          }}
        />
      </Box>
      <Box sx={{ flex: 1 }}>
        <Typography sx={{ fontSize: 13, lineHeight: 1.35 }}>{snag.text}</Typography>
        <Typography sx={{ fontSize: 12, color: "text.secondary", lineHeight: 1.35 }}>
          {where ? `${where}, ` : ""}
          {framesOf(snag)}. {snag.remedy}
        </Typography>
      </Box>
    </ButtonBase>
  ));
}
