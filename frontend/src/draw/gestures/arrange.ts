import type { Operation, Point, Shape } from "../../api/types";
import { useDesk } from "../../desk/state";
import { boxOf } from "../../stage/pieces";
import type { Matrix } from "../matrix";
import { partWithin, unitOf } from "../parts";
import { sketch } from "../sketch";
import { chooseAround } from "./choose";
import { commit, drag, type Hand, shapeUnder, snapFor, tryOnSpan } from "./hand";

const MOST = 1000; // points that move and may snap: beyond it, a move would take longer than a frame

/** Choose shapes, and move them. */
export function arrange(hand: Hand) {
  const { set, shapes } = useDesk.getState();
  const shape = hand.drawing.shapes.find((s) => s.id === shapeUnder(hand.event.target));
  if (!shape) return chooseAround(hand, "shapes");
  let { part } = useDesk.getState();
  if (partWithin(shape, part) === undefined) part = "";
  const unit = unitOf(shape, hand.drawing.shapes, part);
  const had = unit.every((id) => shapes.includes(id));
  let chosen = had ? shapes : unit;
  if (hand.event.shiftKey)
    chosen = had ? shapes.filter((id) => !unit.includes(id)) : [...new Set([...shapes, ...unit])];
  set({ shapes: chosen, nodes: [], part });
  if (chosen.length) move(hand, chosen);
}

/** Go into the part that was clicked twice. */
export function enter(hand: Pick<Hand, "drawing">, id: string) {
  const { set, part } = useDesk.getState();
  const shape = hand.drawing.shapes.find((s) => s.id === id);
  const deeper = shape && partWithin(shape, part);
  if (!shape || !deeper) return;
  set({ part: deeper, shapes: unitOf(shape, hand.drawing.shapes, deeper), nodes: [] });
}

/** What of moving shapes snaps: their points, where they are not too many, and corners and middles of their box. */
function anchorsOf(moving: Shape[]): Point[] {
  const box = boxOf(moving);
  if (!box) return [];
  const nodes = moving.flatMap((s) => s.contours.flatMap((c) => c.nodes.map((n): Point => n.at)));
  const ninths = [0, 0.5, 1].flatMap((u) =>
    [0, 0.5, 1].map((v): Point => [box.x + u * box.width, box.y + v * box.height]),
  );
  return nodes.length <= MOST ? [...nodes, ...ninths] : ninths;
}

function move(hand: Hand, chosen: string[]) {
  const ids = new Set(chosen);
  const moving = hand.drawing.shapes.filter((s) => ids.has(s.id));
  const snapper = snapFor(hand, (shape) => ids.has(shape));
  const anchors = anchorsOf(moving);
  let matrix: Matrix | null = null;
  const operation = (m: Matrix): Operation => ({
    type: "transform_shapes",
    key: hand.key,
    shapes: chosen,
    matrix: m,
  });
  drag(
    hand,
    ([x, y], event) => {
      let by: Point = [x - hand.point[0], y - hand.point[1]];
      if (event.shiftKey) by = Math.abs(by[0]) > Math.abs(by[1]) ? [by[0], 0] : [0, by[1]];
      const snapped = snapper.move(anchors, by, event.altKey);
      matrix = [1, 0, 0, 1, ...snapped.by];
      sketch({ drag: { matrix }, catches: snapped.catches });
      tryOnSpan(hand, operation(matrix));
    },
    () => {
      if (matrix) void commit(operation(matrix));
    },
  );
}
