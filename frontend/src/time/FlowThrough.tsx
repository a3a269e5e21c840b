import { Box, Button } from "@mui/material";
import type { Key, Layer, PairView } from "../api/types";
import { usePicked } from "../desk/state";

/** The keys that begin the spans before and after a key; where a layer is played again, also round its ends. */
function spansBeside({ keys, repeat }: Layer, key: Key): [Key | undefined, Key | undefined] {
  const index = keys.indexOf(key);
  const [head, last] = [keys[0], keys.length - 1];
  const again = repeat === "round and round" && last > 1 && head?.drawing === keys[last]?.drawing;
  if (again && (index === 0 || index === last)) return [keys[last - 1], head];
  return [keys[index - 1], index < last ? key : undefined];
}

type Props = { layer: Layer; first: Key; second: Key; pair: PairView | undefined };

/** Lets the ways of the neighbouring spans go through their common key without a corner: of one pair, or of all. */
export function FlowThrough({ layer, first, second, pair }: Props) {
  const { edit } = usePicked("edit");
  const through = [
    { key: first, shape: pair?.first },
    { key: second, shape: pair?.second },
  ].filter(
    ({ key, shape }) => shape !== null && spansBeside(layer, key).every((beside) => beside?.span.inbetween),
  );
  if (!through.length) return null;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, pt: 1 }}>
      {through.map(({ key, shape }) => (
        <Button
          key={key.id}
          variant="outlined"
          size="small"
          title={`What comes to key ${key.frame} goes on from it without a corner: paths of travel are drawn on both sides, to be bent further.`}
          onClick={() => void edit({ type: "flow_through", key: key.id, shape: shape ?? null })}
        >
          Flow through key {key.frame}
        </Button>
      ))}
    </Box>
  );
}
