import { memo, useDeferredValue, useMemo } from "react";
import type { Drawing, Key, Layer } from "../api/types";
import { CycleSection } from "../cycle/CycleSection";
import { type Tool, useAtHand, usePicked } from "../desk/state";
import { KeySection } from "./KeySection";
import { PaintSection } from "./PaintSection";
import { PaletteSection } from "./PaletteSection";
import { PictureSection } from "./PictureSection";
import { PlaceSection } from "./PlaceSection";
import { PointSection } from "./PointSection";
import { ShapeList } from "./ShapeList";
import { SimplifySection } from "./SimplifySection";
import { SnapSection } from "./SnapSection";
import { ToolSection } from "./ToolSection";

const MAKING = new Set<Tool>(["freehand", "path", "form", "letters", "pour"]);

/** The side panel of Draw: the tool at hand first, then what is chosen, then the key and the scene. */
export function DrawPanel() {
  const { layer, editing } = useAtHand();
  const { shapes, tool, drawings } = usePicked("shapes", "tool", "drawings");
  const drawing = (editing && drawings[editing.drawing]) ?? null;
  const now = useMemo(
    () => ({ layer, editing, drawing, shapes, tool }),
    [layer, editing, drawing, shapes, tool],
  );
  return <Sections {...useDeferredValue(now)} />; // the stage comes first: the panel follows when there is time
}

type Props = {
  layer: Layer | null;
  editing: Key | null;
  drawing: Drawing | null;
  shapes: string[];
  tool: Tool;
};

const Sections = memo(function Sections({ layer, editing, drawing, shapes, tool }: Props) {
  const chosen = MAKING.has(tool) ? [] : (drawing?.shapes.filter((s) => shapes.includes(s.id)) ?? []);
  if (layer?.picture)
    return (
      <>
        <PictureSection layer={layer} picture={layer.picture} />
        <SnapSection />
      </>
    );
  if (layer?.cycle)
    return (
      <>
        <CycleSection layer={layer} cycle={layer.cycle} />
        <SnapSection />
      </>
    );
  return (
    <>
      <KeySection />
      <ToolSection />
      {tool === "points" && editing && drawing && (
        <PointSection chosen={chosen} drawing={drawing} editing={editing.id} />
      )}
      <PaintSection chosen={chosen} editing={editing?.id ?? null} />
      {editing && chosen.length > 0 && <PlaceSection chosen={chosen} editing={editing.id} />}
      {editing && chosen.length > 0 && <SimplifySection chosen={chosen} editing={editing.id} />}
      {editing && drawing && <ShapeList drawing={drawing} editing={editing.id} />}
      <PaletteSection />
      <SnapSection />
    </>
  );
});
