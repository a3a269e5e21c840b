import { Alert, Box, Button } from "@mui/material";
import { Trash2 } from "lucide-react";
import type { SnagView } from "../api/types";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { Rename } from "../desk/Rename";
import { Hollow, Section } from "../desk/Section";
import { SnagList } from "../desk/SnagList";
import { useFound, useSpans } from "../desk/spans";
import { useAtHand, useDesk, usePicked } from "../desk/state";
import { PairRow } from "./PairRow";
import { Proposals } from "./Proposals";

export function MatchPanel() {
  const { first, second } = useAtHand();
  const { pair, hint, set, edit } = usePicked("pair", "hint", "set", "edit");
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
            tied to where it goes today; drag either end.
          </Hollow>
        )}
        {span.hints.map((each) => (
          <Box key={each.id}>
            <Box
              onClick={() => set({ hint: each.id })}
              data-testid="hint-row"
              sx={{
                display: "flex",
                alignItems: "center",
                px: 0.5,
                minHeight: 28,
                borderRadius: 1,
                bgcolor: hint === each.id ? "action.selected" : undefined,
              }}
            >
              <Rename
                name={each.name}
                label="hint"
                onRename={(name) => void edit({ type: "rename_hint", key, hint: each.id, name })}
              />
              <Action
                name={`Remove hint ${each.name}`}
                onClick={() => void edit({ type: "remove_hints", key, hints: [each.id] })}
              >
                <Trash2 size={15} />
              </Action>
            </Box>
            {each.trouble && (
              <Alert severity="error" variant="outlined" sx={{ py: 0, px: 1, my: 0.5, fontSize: 12 }}>
                {each.trouble}
              </Alert>
            )}
          </Box>
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
      <Section title={`Pairs · ${span.pairs.length}`}>
        {span.pairs.map((each) => (
          <PairRow
            key={`${each.first} ${each.second}`}
            pair={each}
            from={first}
            to={second}
            on={pair !== null && pair.first === each.first && pair.second === each.second}
          />
        ))}
        <Hollow>
          To pair by hand, drag a thread's end onto another shape; with Shift held it keeps its partner too,
          and one divides or several join.
        </Hollow>
      </Section>
    </>
  );
}
