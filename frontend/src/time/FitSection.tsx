import { Box } from "@mui/material";
import type { Key, Operation, SpanView } from "../api/types";
import { Hollow, Section } from "../desk/Section";
import { Slide } from "../desk/Slide";
import { Soft } from "../desk/Soft";
import { usePicked } from "../desk/state";

const DRAFT = Math.log(8);
const CLOSE = Math.log(0.1);

/** How closely in-betweens are fitted, from a draft of few nodes to a close-up, and the nodes it takes. */
export function FitSection({ first, span }: { first: Key; span: SpanView }) {
  const { edit, tryOut } = usePicked("edit", "tryOut");
  const { tolerance } = first.span.take;
  const place = (Math.log(tolerance) - DRAFT) / (CLOSE - DRAFT);
  const operation = (share: number): Operation => ({
    type: "set_tolerance",
    key: first.id,
    tolerance: Math.round(1000 * Math.exp(DRAFT + share * (CLOSE - DRAFT))) / 1000,
  });
  return (
    <Section
      title="Fit"
      aside={
        <Soft data-testid="fit-nodes" sx={{ fontSize: 12, pr: 1 }}>
          {span.nodes} nodes in each in-between
        </Soft>
      }
    >
      <Box sx={{ px: 1 }}>
        <Slide
          aria-label="How closely in-betweens are fitted"
          value={Math.min(1, Math.max(0, place))}
          min={0}
          max={1}
          step={0.05}
          onMove={(share) => tryOut(operation(share), first.id)}
          onCommit={(share) => edit(operation(share))}
        />
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between" }}>
        <Soft sx={{ fontSize: 12 }}>Draft</Soft>
        <Soft sx={{ fontSize: 12 }}>Close-up</Soft>
      </Box>
      <Hollow>
        Outlines stay within {tolerance.toLocaleString("en", { maximumFractionDigits: 2 })}{" "}
        {tolerance === 1 ? "unit" : "units"} of their way. Keys are exact at any fit.
      </Hollow>
    </Section>
  );
}
