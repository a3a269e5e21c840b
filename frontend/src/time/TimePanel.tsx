import { Box, Button, ToggleButton, ToggleButtonGroup } from "@mui/material";
import type { Ease, Operation } from "../api/types";
import { CycleSection } from "../cycle/CycleSection";
import { actions } from "../desk/actions";
import { Hollow, Section } from "../desk/Section";
import { Soft } from "../desk/Soft";
import { useSpans } from "../desk/spans";
import { useAtHand, usePicked } from "../desk/state";
import { drawnIn } from "../timeline/exposure";
import { EaseCurve } from "./EaseCurve";
import { EaseFields, EVEN, sameEase } from "./EaseFields";
import { FitSection } from "./FitSection";
import { StaggerSection } from "./StaggerSection";
import { TravelSection } from "./TravelSection";

export function TimePanel() {
  const { layer, first, second } = useAtHand();
  const spans = useSpans();
  const { edit, tryOut } = usePicked("edit", "tryOut");
  if (layer?.cycle) return <CycleSection layer={layer} cycle={layer.cycle} />;
  if (!first || !second)
    return (
      <Section title="Pace">
        <Hollow>Two keys on one layer make a span; its pace is set here.</Hollow>
      </Section>
    );
  const span = spans[first.id];
  const take = first.span.take;
  const drawn = drawnIn(first, second);
  const operation = (ease: Ease): Operation => ({ type: "set_ease", key: first.id, ease });
  const charted = take.chart.length > 0;
  const charting = (chart: number[]): Operation => ({ type: "set_chart", key: first.id, chart });
  /** Set the place of a drawing, for all frames that show it; the others stay where they are. */
  const tick = (number: number, place: number, done: boolean) => {
    const places = (span?.places ?? []).slice(1, -1);
    const chart = places.map((old, k) => (k + 1 >= number && k + 1 < number + take.exposure ? place : old));
    if (done) void edit(charting(chart));
    else tryOut(charting(chart), first.id);
  };
  const commit = (ease: Ease) => !sameEase(ease, take.ease) && edit(operation(ease));
  return (
    <>
      <Section title={`Span from ${first.frame} to ${second.frame}`}>
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, pt: 0.5 }}>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={first.span.inbetween ? "on" : "hold"}
            onChange={(_, v) => v && actions.toggleInbetween()}
            aria-label="Hold or in-between"
          >
            <ToggleButton value="on" sx={{ py: 0.25 }}>
              In-between
            </ToggleButton>
            <ToggleButton value="hold" sx={{ py: 0.25 }}>
              Hold
            </ToggleButton>
          </ToggleButtonGroup>
          <Soft sx={{ fontSize: 12 }}>{drawn.length - 2} between the keys</Soft>
        </Box>
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, pt: 1 }}>
          <Soft sx={{ fontSize: 12 }}>Drawings on</Soft>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={take.exposure}
            onChange={(_, exposure) => exposure && edit({ type: "set_exposure", key: first.id, exposure })}
            aria-label="For how many frames each drawing is shown"
          >
            {["ones", "twos", "threes", "fours"].map((name, k) => (
              <ToggleButton key={name} value={k + 1} sx={{ py: 0.25 }}>
                {name}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Box>
        <Hollow>Drag a key on the timeline to make it longer, which is slower, or shorter.</Hollow>
      </Section>
      <Section
        title="Pace"
        aside={
          charted ? (
            <Button color="inherit" onClick={() => void edit(charting([]))}>
              Back to the ease
            </Button>
          ) : (
            <Button color="inherit" disabled={sameEase(take.ease, EVEN)} onClick={() => commit(EVEN)}>
              Even
            </Button>
          )
        }
      >
        <EaseCurve
          ease={take.ease}
          places={span?.places ?? []}
          curve={span?.curve ?? []}
          drawn={drawn}
          charted={charted}
          onTick={tick}
          onDrag={(ease) => tryOut(operation(ease), first.id)}
          onDone={commit}
        />
        {charted && (
          <Hollow>
            Each in-between stands where you put it. A change of the ease below goes back to that.
          </Hollow>
        )}
        <EaseFields
          ease={take.ease}
          names={{
            out: `Ease out of key ${first.frame}`,
            into: `Ease in to key ${second.frame}`,
            anticipation: "Anticipation: how far it first goes back",
            overshoot: `Overshoot: how far it goes beyond key ${second.frame}`,
          }}
          onMove={(ease) => tryOut(operation(ease), first.id)}
          onCommit={commit}
        />
      </Section>
      {layer && span && <TravelSection layer={layer} first={first} second={second} span={span} />}
      {span && <StaggerSection first={first} second={second} span={span} />}
      {span && <FitSection first={first} span={span} />}
    </>
  );
}
