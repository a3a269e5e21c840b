import { Layers, useShownFrame } from "../stage/Layers";
import { Mark } from "../stage/Mark";
import { Paper } from "../stage/Paper";

/** The scene as it will be. */
export function ReviewStage() {
  const frame = useShownFrame();
  return (
    <Paper name="stage" over={(lens) => <Mark lens={lens} />}>
      {() => <Layers frame={frame} />}
    </Paper>
  );
}
