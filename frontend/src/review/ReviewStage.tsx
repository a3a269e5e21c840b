import { Layers, useShownFrame } from "../stage/Layers";
import { Paper } from "../stage/Paper";

/** The scene as it will be. */
export function ReviewStage() {
  const frame = useShownFrame();
  return <Paper name="stage">{() => <Layers frame={frame} />}</Paper>;
}
