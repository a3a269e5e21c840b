import { type PointerEvent as ReactPointerEvent, useMemo, useRef, useState } from "react";
import type { Fill, Operation, Point, Sample, Shape, Stroke } from "../api/types";
import { useSpans } from "../desk/spans";
import { type Brush, useAtHand, useDesk } from "../desk/state";
import { Ghost, Layers, OnionSkin, useShownFrame } from "../stage/Layers";
import { Mark } from "../stage/Mark";
import { Paper } from "../stage/Paper";
import { Pieces } from "../stage/Pieces";
import { piecesOfDrawing, piecesShown } from "../stage/pieces";
import { follow, type Lens, toScene } from "../stage/viewport";
import { ArrangeHandles } from "./ArrangeHandles";
import { type Matrix, matrixText } from "./matrix";
import { NodeHandles } from "./NodeHandles";
import { evenFill, evenStroke } from "./style";

export type Drag = { matrix: Matrix } | { shape: Shape } | null;

export const brushFill = (brush: Brush): Fill | null => (brush.fill === null ? null : evenFill(brush.fill));

export const brushStroke = (brush: Brush): Stroke | null =>
  brush.stroke === null || brush.width <= 0 ? null : evenStroke(brush.stroke, brush.width);

/** Why nothing can be drawn at this frame, if so. */
export function drawingRefusal(at: ReturnType<typeof useAtHand>, frame: number): string | null {
  if (!at.layer) return "There is no layer yet. Add one on the timeline.";
  if (at.layer.locked) return `Layer '${at.layer.name}' is locked. Unlock it on the timeline to draw on it.`;
  if (at.layer.hidden) return `Layer '${at.layer.name}' is hidden. Show it on the timeline to draw on it.`;
  if (!at.exposure) return `There is no key at ${frame} yet. Press X for a new one.`;
  if (!at.editing)
    return `Frame ${frame} shows an in-between: a picture, not yet a drawing. Press C to keep it as a breakdown.`;
  return null;
}

export function DrawStage() {
  const at = useAtHand();
  const { tool, form, brush, shapes, frame, bare, drawings, set, edit, tryOut } = useDesk();
  const spans = useSpans();
  const shownFrame = useShownFrame();
  const [drag, setDrag] = useState<Drag>(null);
  const [sketch, setSketch] = useState<{ box?: [Point, Point]; line?: Sample[]; choose?: boolean } | null>(
    null,
  );
  const group = useRef<SVGGElement>(null);
  const exposure = useDesk((s) => (at.layer ? s.doc?.sheet[at.layer.id]?.[shownFrame - 1] : null));
  const drawing = at.editing && drawings[at.editing.drawing];
  const refusal = drawingRefusal(at, frame);

  const pieces = useMemo(() => {
    if (!at.layer || at.layer.hidden) return [];
    if (drawing && drag && "shape" in drag)
      return piecesOfDrawing({
        shapes: drawing.shapes.map((s) => (s.id === drag.shape.id ? drag.shape : s)),
      });
    return piecesShown(at.layer, exposure, drawings, spans);
  }, [at.layer, drawing, drag, exposure, drawings, spans]);

  const trial = (operation: Operation) => at.first && tryOut(operation, at.first.id);

  const commit = async (operation: Operation) => {
    await edit(operation);
    setDrag(null);
  };

  const moveShapes = (key: string, chosen: string[], start: ReactPointerEvent, lens: Lens) => {
    let matrix: Matrix | null = null;
    const operation = (m: Matrix): Operation => ({
      type: "transform_shapes",
      key,
      shapes: chosen,
      matrix: m,
    });
    follow(
      (event) => {
        const [dx, dy] = [event.clientX - start.clientX, event.clientY - start.clientY];
        if (!matrix && Math.hypot(dx, dy) < 3) return;
        matrix = [1, 0, 0, 1, dx / lens.scale, dy / lens.scale];
        setDrag({ matrix });
        trial(operation(matrix));
      },
      () => matrix && commit(operation(matrix)),
    );
  };

  const chooseBox = (start: Point, svg: Element, lens: Lens, keep: string[]) => {
    let end = start;
    follow(
      (event) => {
        end = toScene(lens, svg, event);
        setSketch({ box: [start, end], choose: true });
      },
      () => {
        setSketch(null);
        const [left, right] = [Math.min(start[0], end[0]), Math.max(start[0], end[0])];
        const [top, bottom] = [Math.min(start[1], end[1]), Math.max(start[1], end[1])];
        const found = [...(group.current?.querySelectorAll<SVGPathElement>("[data-shape]") ?? [])]
          .filter((path) => {
            const b = path.getBBox();
            return b.x >= left && b.x + b.width <= right && b.y >= top && b.y + b.height <= bottom;
          })
          .map((path) => path.dataset.shape ?? "");
        set({ shapes: [...new Set([...keep, ...found])], nodes: [] });
      },
    );
  };

  const press = (point: Point, event: ReactPointerEvent, lens: Lens) => {
    const svg = event.currentTarget;
    if (refusal) {
      set({ notice: { kind: "info", text: refusal }, shapes: [] });
      return;
    }
    const key = at.editing?.id as string;
    if (tool === "form") return drawForm(key, point, svg, lens, event.shiftKey);
    if (tool === "freehand") return drawLine(key, point, event, svg, lens);
    const hit = (event.target as Element).closest<SVGElement>("[data-shape]")?.dataset.shape;
    if (!hit) {
      if (!event.shiftKey) set({ shapes: [], nodes: [] });
      return chooseBox(point, svg, lens, event.shiftKey ? shapes : []);
    }
    let chosen = shapes.includes(hit) ? shapes : [hit];
    if (event.shiftKey) chosen = shapes.includes(hit) ? shapes.filter((s) => s !== hit) : [...shapes, hit];
    set({ shapes: chosen, nodes: [] });
    if (tool === "arrange" && chosen.length) moveShapes(key, chosen, event, lens);
  };

  const drawForm = (key: string, start: Point, svg: Element, lens: Lens, constrained: boolean) => {
    let end = start;
    follow(
      (event) => {
        let [x, y] = toScene(lens, svg, event);
        if (constrained || event.shiftKey) {
          const side = Math.max(Math.abs(x - start[0]), Math.abs(y - start[1]));
          [x, y] = [start[0] + Math.sign(x - start[0]) * side, start[1] + Math.sign(y - start[1]) * side];
        }
        end = [x, y];
        setSketch({ box: [start, end] });
      },
      async () => {
        const [width, height] = [Math.abs(end[0] - start[0]), Math.abs(end[1] - start[1])];
        if (width > 1 && height > 1) {
          const [x, y] = [Math.min(start[0], end[0]), Math.min(start[1], end[1])];
          const paint = { fill: brushFill(brush), stroke: brushStroke(brush) };
          await edit({ type: "add_form", key, form, x, y, width, height, ...paint });
        }
        setSketch(null);
      },
    );
  };

  const drawLine = (key: string, start: Point, press: ReactPointerEvent, svg: Element, lens: Lens) => {
    const pressure = (event: { pointerType: string; pressure: number }) =>
      event.pointerType === "mouse" ? 0.5 : event.pressure;
    const samples: Sample[] = [{ x: start[0], y: start[1], pressure: pressure(press) }];
    follow(
      (event) => {
        for (const each of event.getCoalescedEvents?.() ?? [event]) {
          const [x, y] = toScene(lens, svg, each);
          samples.push({ x, y, pressure: pressure(each) });
        }
        setSketch({ line: [...samples] });
      },
      async () => {
        const stroke = brushStroke(brush) ?? brushStroke({ ...brush, stroke: "#24351f", width: 3 });
        if (samples.length > 1)
          await edit({
            type: "add_freehand",
            key,
            samples,
            tolerance: 2 / lens.scale,
            stroke,
            fill: null,
            closed: false,
          });
        setSketch(null);
      },
    );
  };

  const chosen = drawing?.shapes.filter((s) => shapes.includes(s.id)) ?? [];
  const edited = chosen.map((s) => (drag && "shape" in drag && drag.shape.id === s.id ? drag.shape : s));
  const transform = drag && "matrix" in drag ? matrixText(drag.matrix) : undefined;

  return (
    <Paper
      name="stage"
      veil={0.9}
      cursor={tool === "freehand" || tool === "form" ? "crosshair" : "default"}
      onPress={press}
      onTwice={(point, target) => {
        const shape = target.closest<SVGElement>("[data-shape]")?.dataset.shape;
        if (tool === "points" && shape && at.editing)
          void edit({ type: "add_node", key: at.editing.id, shape, at: point });
      }}
      over={(lens) => (
        <>
          <OnionSkin />
          <Ghost />
          <Mark lens={lens} />
          {sketch?.box && (
            <SketchBox ends={sketch.box} ellipse={!sketch.choose && form === "ellipse"} lens={lens} />
          )}
          {sketch?.line && (
            <polyline
              points={sketch.line.map((p) => `${p.x},${p.y}`).join(" ")}
              fill="none"
              stroke={brush.stroke ?? "#24351f"}
              strokeWidth={brush.width || 3}
              strokeLinecap="round"
              strokeLinejoin="round"
            />
          )}
          {!bare && !refusal && tool === "arrange" && chosen.length > 0 && at.editing && (
            <ArrangeHandles
              shapes={chosen}
              group={group}
              lens={lens}
              drag={drag}
              onDrag={(matrix) => {
                setDrag({ matrix });
                trial({ type: "transform_shapes", key: at.editing?.id ?? "", shapes, matrix });
              }}
              onDone={(matrix) =>
                commit({ type: "transform_shapes", key: at.editing?.id ?? "", shapes, matrix })
              }
            />
          )}
          {!bare && !refusal && tool === "points" && at.editing && (
            <NodeHandles
              shapes={edited}
              lens={lens}
              onDrag={(shape, operation) => {
                setDrag({ shape });
                trial(operation);
              }}
              onDone={commit}
            />
          )}
        </>
      )}
    >
      {() => (
        <>
          <Layers frame={shownFrame} except={at.layer?.id ?? null} side="behind" />
          <g ref={group} opacity={at.layer?.opacity} pointerEvents={refusal ? "none" : "all"}>
            {transform ? (
              pieces.map((piece) => (
                <g key={piece.id} transform={shapes.includes(piece.id) ? transform : undefined}>
                  <Pieces pieces={[piece]} />
                </g>
              ))
            ) : (
              <Pieces pieces={pieces} />
            )}
          </g>
          <Layers frame={shownFrame} except={at.layer?.id ?? null} side="before" />
        </>
      )}
    </Paper>
  );
}

function SketchBox({ ends, ellipse, lens }: { ends: [Point, Point]; ellipse: boolean; lens: Lens }) {
  const [[x0, y0], [x1, y1]] = ends;
  const [x, y, width, height] = [Math.min(x0, x1), Math.min(y0, y1), Math.abs(x1 - x0), Math.abs(y1 - y0)];
  const line = { fill: "none", stroke: "var(--rye)", strokeWidth: 1.5 / lens.scale };
  return (
    <g pointerEvents="none">
      {ellipse ? (
        <ellipse cx={x + width / 2} cy={y + height / 2} rx={width / 2} ry={height / 2} {...line} />
      ) : (
        <rect x={x} y={y} width={width} height={height} {...line} strokeDasharray={`${4 / lens.scale}`} />
      )}
      <text
        x={x + width + 6 / lens.scale}
        y={y + height + 14 / lens.scale}
        fontSize={12 / lens.scale}
        fill="var(--ink)"
        stroke="var(--panel)"
        strokeWidth={3 / lens.scale}
        paintOrder="stroke"
      >
        {Math.round(width)} × {Math.round(height)}
      </text>
    </g>
  );
}
