import { Button } from "@mui/material";
import type { SnagView } from "../api/types";
import { actions } from "../desk/actions";
import { Hollow, Section } from "../desk/Section";
import { SnagList } from "../desk/SnagList";
import { useFound, useSpans } from "../desk/spans";
import { useAtHand, useDesk, usePicked } from "../desk/state";
import { TakesSection } from "../desk/TakesSection";
import { HintRow } from "./HintRow";
import { PairList } from "./PairList";
import { Proposals } from "./Proposals";

export function MatchPanel() {
  const { first, second } = useAtHand();
  const { hint, edit } = usePicked("hint", "edit");
  const spans = useSpans();
  const span = first && spans[first.id];
  const found = useFound();
  const proposed = useDesk((s) => s.proposals?.key === first?.id);
  if (!first || !second || !span)
    return (
      <Section title="Pairs">
        <Hollow>Two keys on one layer make a span; their pairs are listed here.</Hollow>
      </Section>
    );
  const key = first.id;
  const snags = found[key]?.snags ?? [];
  return (
    <>
      <Section
        title={`Hints · ${span.hints.length}`}
        aside={
          span.hints.length > 0 && (
            <Button color="inherit" onClick={() => void edit({ type: "remove_hints", key, hints: null })}>
              Remove all
            </Button>
          )
        }
      >
        {span.hints.length === 0 && !proposed && (
          <Hollow>
            None are needed yet. To tie a point: click a shape, then press on its outline. Its other end is
            tied to where it goes today; drag either end. On a shape that appears or vanishes, a hint says
            where it grows from, or shrinks to.
          </Hollow>
        )}
        {span.hints.map((each) => (
          <HintRow key={each.id} hint={each} spanKey={key} on={hint === each.id} />
        ))}
        <Proposals key={key} spanKey={key} />
      </Section>
      <Section title={`Snags · ${snags.length}`}>
        {snags.length === 0 && <Hollow>Nothing that looks wrong in these in-betweens.</Hollow>}
        <SnagList
          snags={snags.map((snag) => ({ snag }))}
          onLook={(k) => actions.lookAt(snags[k] as SnagView)}
        />
      </Section>
      <TakesSection />
      <Section title={`Pairs · ${span.pairs.length}`}>
        <PairList span={span} from={first} to={second} />
        <Hollow>
          To pair by hand, drag a thread's end onto another shape; with Shift held it keeps its partner too,
          and one divides or several join.
        </Hollow>
      </Section>
    </>
  );
}
