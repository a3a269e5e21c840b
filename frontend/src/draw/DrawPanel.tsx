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
  const at = useAtHand();
  const { shapes, tool, drawings } = usePicked("shapes", "tool", "drawings");
  const drawing = at.editing && drawings[at.editing.drawing];
  const chosen = MAKING.has(tool) ? [] : (drawing?.shapes.filter((s) => shapes.includes(s.id)) ?? []);
  if (at.layer?.picture)
    return (
      <>
        <PictureSection layer={at.layer} picture={at.layer.picture} />
        <SnapSection />
      </>
    );
  return (
    <>
      <KeySection />
      <ToolSection />
      {tool === "points" && at.editing && drawing && (
        <PointSection chosen={chosen} drawing={drawing} editing={at.editing.id} />
      )}
      <PaintSection chosen={chosen} editing={at.editing?.id ?? null} />
      {at.editing && chosen.length > 0 && <PlaceSection chosen={chosen} editing={at.editing.id} />}
      {at.editing && chosen.length > 0 && <SimplifySection chosen={chosen} editing={at.editing.id} />}
      {at.editing && drawing && <ShapeList drawing={drawing} editing={at.editing.id} />}
      <PaletteSection />
      <SnapSection />
    </>
  );
}
