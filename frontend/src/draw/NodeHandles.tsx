import { memo, type PointerEvent as ReactPointerEvent } from "react";
import type { Drawing, Node, Operation, Point, Shape } from "../api/types";
import { useDesk, useScene } from "../desk/state";
import { outlineOf } from "../stage/pieces";
import { follow, type Lens } from "../stage/viewport";
import type { Operate } from "./ArrangeHandles";
import { replaced } from "./gestures/hand";
import { sketch, useDragged } from "./sketch";
import { snapperFor } from "./snap";

type Props = { shapes: Shape[]; drawing: Drawing; keyId: string; lens: Lens; operate: Operate };
type Grip = "at" | "before" | "after";

/** More points than this can't be told apart, and would make the stage slow. */
const MOST = 1200;

const plus = (p: Point, dx: number, dy: number): Point => [p[0] + dx, p[1] + dy];

/** A node dragged by one of its grips; the other handle of a linked node goes along, unless the hand is free (Alt). */
function dragged(node: Node, grip: Grip, dx: number, dy: number, free: boolean): Node {
  if (grip === "at")
    return {
      ...node,
      at: plus(node.at, dx, dy),
      before: plus(node.before, dx, dy),
      after: plus(node.after, dx, dy),
    };
  const other = grip === "before" ? "after" : "before";
  const end = plus(node[grip], dx, dy);
  if (node.kind === "corner" || free) return { ...node, [grip]: end };
  const [x, y] = [node.at[0] - end[0], node.at[1] - end[1]];
  const length = Math.hypot(x, y);
  const own =
    node.kind === "symmetric" ? length : Math.hypot(node[other][0] - node.at[0], node[other][1] - node.at[1]);
  if (length < 1e-9) return { ...node, [grip]: end };
  return { ...node, [grip]: end, [other]: plus(node.at, (x / length) * own, (y / length) * own) };
}

const changed = (shape: Shape, nodes: Map<string, Node>): Shape => ({
  ...shape,
  contours: shape.contours.map((c) => ({ ...c, nodes: c.nodes.map((n) => nodes.get(n.id) ?? n) })),
});

/** Nodes and handles of the chosen shapes: corners are square, smooth nodes round, symmetric ones have a dot. */
export function NodeHandles({ shapes: chosenShapes, drawing, keyId, lens, operate }: Props) {
  const shapes = useDragged(chosenShapes);
  const chosen = useDesk((s) => s.nodes);
  const scene = useScene();
  const { set } = useDesk.getState();
  const px = 1 / lens.scale;
  const count = shapes.reduce((sum, s) => sum + s.contours.reduce((n, c) => n + c.nodes.length, 0), 0);

  const press = (node: Node, grip: Grip) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    let nodes = chosen.includes(node.id) ? chosen : [node.id];
    if (event.shiftKey)
      nodes = chosen.includes(node.id) ? chosen.filter((n) => n !== node.id) : [...chosen, node.id];
    set({ nodes });
    const ids = new Set(grip === "at" ? nodes : [node.id]);
    const touched = shapes.filter((s) => s.contours.some((c) => c.nodes.some((n) => ids.has(n.id))));
    const moving = touched.flatMap((s) => s.contours.flatMap((c) => c.nodes.filter((n) => ids.has(n.id))));
    const snapper = snapperFor(drawing, scene, lens.scale, (_, id) => ids.has(id));
    let operation: Operation | null = null;
    follow(
      (move) => {
        const by: Point = [(move.clientX - event.clientX) * px, (move.clientY - event.clientY) * px];
        if (!operation && Math.hypot(...by) < 2 * px) return;
        const snapped = snapper.move([node[grip]], by, move.altKey);
        const placed = new Map(moving.map((n) => [n.id, dragged(n, grip, ...snapped.by, move.altKey)]));
        const moves = [...placed.values()].map(({ id, at, before, after }) => ({
          node: id,
          at,
          before,
          after,
        }));
        operation = { type: "move_nodes", key: keyId, moves };
        replaced(touched.map((s) => changed(s, placed)));
        sketch({ catches: snapped.catches });
        operate.try(operation);
      },
      () => operation && operate.done(operation),
    );
  };

  return shapes.map((shape) => (
    <g key={shape.id}>
      <path
        d={outlineOf(shape)}
        fill="none"
        stroke="var(--rye)"
        strokeWidth={1.25 * px}
        pointerEvents="none"
      />
      {count <= MOST &&
        shape.contours.flatMap((contour) => [
          contour.closed && contour.nodes[0] && (
            <Seam key={`${contour.nodes[0].id} seam`} nodes={contour.nodes} px={px} />
          ),
          ...contour.nodes.map((node) => (
            <NodeMark key={node.id} node={node} picked={chosen.includes(node.id)} px={px} press={press} />
          )),
        ])}
    </g>
  ));
}

type MarkProps = {
  node: Node;
  picked: boolean;
  px: number;
  press: (node: Node, grip: Grip) => (event: ReactPointerEvent) => void;
};

/** Handlers of an unchanged node may be old: they differ only in what else is chosen, which `picked` tells. */
const NodeMark = memo(
  function NodeMark({ node, picked, px, press }: MarkProps) {
    const [x, y] = node.at;
    const paint = {
      "data-node": node.id,
      fill: picked ? "var(--crust)" : "var(--panel)",
      stroke: "var(--rye)",
      strokeWidth: 1.5 * px,
      cursor: "move",
      onPointerDown: press(node, "at"),
    };
    return (
      <g>
        {picked &&
          (["before", "after"] as const).map((grip) => (
            <g key={grip}>
              <line
                x1={x}
                y1={y}
                x2={node[grip][0]}
                y2={node[grip][1]}
                stroke="var(--crust)"
                strokeWidth={px}
              />
              <circle
                cx={node[grip][0]}
                cy={node[grip][1]}
                r={4 * px}
                fill="var(--crust)"
                cursor="move"
                data-grip={grip}
                onPointerDown={press(node, grip)}
              />
            </g>
          ))}
        {node.kind === "corner" ? (
          <rect x={x - 4 * px} y={y - 4 * px} width={8 * px} height={8 * px} {...paint} />
        ) : (
          <circle cx={x} cy={y} r={4.5 * px} {...paint} />
        )}
        {node.kind === "symmetric" && (
          <circle
            cx={x}
            cy={y}
            r={1.6 * px}
            fill={picked ? "var(--panel)" : "var(--rye)"}
            pointerEvents="none"
          />
        )}
      </g>
    );
  },
  (a, b) => a.node === b.node && a.picked === b.picked && a.px === b.px && !a.picked && !b.picked,
);

/** Where a closed outline begins, and in which direction it goes. */
function Seam({ nodes, px }: { nodes: Node[]; px: number }) {
  const [first, second] = nodes;
  if (!first) return null;
  const ahead = [first.after, second?.at].find(
    (p) => p && Math.hypot(p[0] - first.at[0], p[1] - first.at[1]) > 1e-6,
  );
  if (!ahead) return null;
  const angle = (Math.atan2(ahead[1] - first.at[1], ahead[0] - first.at[0]) * 180) / Math.PI;
  return (
    <path
      data-testid="seam"
      d="M7 -5 13 0 7 5"
      transform={`translate(${first.at}) scale(${px}) rotate(${angle})`}
      fill="none"
      stroke="var(--crust)"
      strokeWidth={2}
      pointerEvents="none"
    />
  );
}
