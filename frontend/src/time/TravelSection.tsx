import { Box, Button, MenuItem, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import type { Key, Layer, Operation, PairView, Point, SpanView } from "../api/types";
import { NumberField } from "../desk/NumberField";
import { Hollow, Section } from "../desk/Section";
import { Slide } from "../desk/Slide";
import { usePicked } from "../desk/state";
import { EaseFields, EVEN, sameEase } from "./EaseFields";
import { FlowThrough } from "./FlowThrough";

type Blend = SpanView["take"]["blend"];

const BLENDS = [
  ["auto", "Auto"],
  ["direct", "Direct"],
  ["arc", "Arc"],
  ["solid", "Solid"],
] as const;

const ABOUT: Record<Exclude<Blend, "auto">, string> = {
  direct: "Every point goes straight.",
  arc: "Turn and size go along an arc, the rest straight.",
  solid: "Every part of a form turns and stretches evenly: nothing shrinks or is pinched on the way.",
};

const nameOf = (pair: PairView) => `${pair.first} ${pair.second}`;

type Props = { layer: Layer; first: Key; second: Key; span: SpanView };

/** How points travel: for the whole span, or for one pair that goes its own way. */
export function TravelSection({ layer, first, second, span }: Props) {
  const { pair, drawings, set, edit } = usePicked("pair", "drawings", "set", "edit");
  const chosen = span.pairs.find((p) => pair && p.first === pair.first && p.second === pair.second);
  const label = (each: PairView) => {
    const shape = (drawing: string, id: string | null) =>
      drawings[drawing]?.shapes.find((s) => s.id === id)?.name;
    const own = shape(first.drawing, each.first) ?? shape(second.drawing, each.second) ?? "a shape";
    return `${own}${each.first ? "" : " (appears)"}${each.second ? "" : " (vanishes)"}`;
  };
  const own = (each: PairView) =>
    each.travel.blend ||
    each.travel.path ||
    each.travel.turns ||
    each.travel.start > 0 ||
    each.travel.end < 1 ||
    !sameEase(each.travel.ease, EVEN);
  return (
    <Section title="Travel">
      <TextField
        select
        fullWidth
        size="small"
        label="Of"
        value={chosen ? nameOf(chosen) : ""}
        sx={{ mt: 1 }}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        onChange={(event) => {
          const found = span.pairs.find((p) => nameOf(p) === event.target.value);
          set({ pair: found ? { first: found.first, second: found.second } : null });
        }}
      >
        <MenuItem value="">the whole span</MenuItem>
        {span.pairs.map((each) => (
          <MenuItem key={nameOf(each)} value={nameOf(each)} sx={own(each) ? { fontWeight: 700 } : {}}>
            {label(each)}
          </MenuItem>
        ))}
      </TextField>
      {chosen ? (
        <PairTravel
          key={nameOf(chosen)}
          first={first}
          second={second}
          pair={chosen}
          blend={first.span.take.blend}
        />
      ) : (
        <>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={first.span.take.blend}
            onChange={(_, blend) => blend && void edit({ type: "set_blend", key: first.id, blend })}
            aria-label="How points travel"
            sx={{ pt: 1 }}
          >
            {BLENDS.map(([value, word]) => (
              <ToggleButton key={value} value={value}>
                {word}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <Hollow>
            {first.span.take.blend === "auto"
              ? `Auto keeps ${span.pairs.filter((p) => p.way === "solid").length} of ${span.pairs.length} pairs solid. Click a trail to see why, or to let its pair go its own way.`
              : ABOUT[first.span.take.blend]}
          </Hollow>
        </>
      )}
      <FlowThrough layer={layer} first={first} second={second} pair={chosen} />
    </Section>
  );
}

type PairProps = { first: Key; second: Key; pair: PairView; blend: Blend };

/** What one pair does where it differs from the span. */
function PairTravel({ first, second, pair, blend }: PairProps) {
  const { edit, tryOut } = usePicked("edit", "tryOut");
  const { travel } = pair;
  const whole = pair.first !== null && pair.second !== null;
  const operation = (changes: object) =>
    ({
      type: "set_travel",
      key: first.id,
      first: pair.first,
      second: pair.second,
      ...changes,
    }) as Operation;
  const change = (changes: object) => edit(operation(changes));
  const length = second.frame - first.frame;
  const span = (value: number[]) => ({ start: (value[0] ?? 0) / length, end: (value[1] ?? length) / length });
  return (
    <>
      {whole && (
        <>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={travel.blend ?? "span"}
            onChange={(_, value) => value && change({ blend: value === "span" ? null : value })}
            aria-label="How this pair travels"
            sx={{ pt: 1, "& button": { px: 0.85 } }}
          >
            <ToggleButton value="span">As span</ToggleButton>
            {BLENDS.map(([value, word]) => (
              <ToggleButton key={value} value={value}>
                {word}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <Hollow>
            {(travel.blend ?? blend) === "auto" ? "Auto took" : "It goes"} <b>{pair.way}</b>:{" "}
            {pair.way_reason}.
          </Hollow>
        </>
      )}
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, pt: 1.25 }}>
        <NumberField
          label="Rounds more"
          value={travel.turns}
          min={-8}
          max={8}
          width={110}
          onChange={(turns) => change({ turns: Math.round(turns) })}
        />
        <Button onClick={() => change({ path: travel.path ? null : bowed(pair.middles as [Point, Point]) })}>
          {travel.path ? "Remove the path" : "Draw a path"}
        </Button>
      </Box>
      {travel.path && <Hollow>Bend the path by its two handles on the stage.</Hollow>}
      <Typography sx={{ fontSize: 12, pt: 1 }}>
        {!pair.first ? "Appears" : !pair.second ? "Vanishes" : "Goes"} from frame{" "}
        {Math.round(first.frame + travel.start * length)} to {Math.round(first.frame + travel.end * length)}
      </Typography>
      <Box sx={{ px: 1 }}>
        <Slide
          value={[travel.start * length, travel.end * length]}
          min={0}
          max={length}
          step={1}
          disableSwap
          getAriaLabel={(index) => (index === 0 ? "Starts at" : "Ends at")}
          onMove={(ends) => lasts(ends) && tryOut(operation(span(ends)), first.id)}
          onCommit={(ends) => lasts(ends) && change(span(ends))}
        />
      </Box>
      <EaseFields
        ease={travel.ease}
        names={{ out: "Its own ease out", into: "Its own ease in", overshoot: "Its own overshoot" }}
        onMove={(ease) => tryOut(operation({ ease }), first.id)}
        onCommit={(ease) => !sameEase(ease, travel.ease) && change({ ease })}
      />
    </>
  );
}

const lasts = ([start = 0, end = 0]: number[]) => start < end;

/** A path to begin with: a bow to the left of the straight way. */
function bowed([[x0, y0], [x1, y1]]: [Point, Point]): [Point, Point] {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const length = Math.hypot(dx, dy);
  const [ax, ay] = length > 20 ? [dy * 0.35, -dx * 0.35] : [0, -80];
  return [
    [dx / 3 + ax, dy / 3 + ay],
    [-dx / 3 + ax, -dy / 3 + ay],
  ];
}
