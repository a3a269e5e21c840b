import type { PointerEvent as ReactPointerEvent } from "react";
import type { Node, Operation, Point, Shape } from "../api/types";
import { useAtHand, useDesk } from "../desk/state";
import { outlineOf } from "../stage/pieces";
import { follow, type Lens } from "../stage/viewport";

type Props = {
  shapes: Shape[];
  lens: Lens;
  onDrag: (shape: Shape, operation: Operation) => void;
  onDone: (operation: Operation) => void;
};

type Grip = "at" | "before" | "after";

const plus = (p: Point, dx: number, dy: number): Point => [p[0] + dx, p[1] + dy];

/** A node dragged by one of its grips; the other handle of a smooth node turns along, unless the hand is free (Alt). */
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
  if (node.kind !== "smooth" || free) return { ...node, [grip]: end };
  const [x, y] = [node.at[0] - end[0], node.at[1] - end[1]];
  const length = Math.hypot(x, y);
  const own = Math.hypot(node[other][0] - node.at[0], node[other][1] - node.at[1]);
  if (length < 1e-9) return { ...node, [grip]: end };
  return { ...node, [grip]: end, [other]: plus(node.at, (x / length) * own, (y / length) * own) };
}

const changed = (shape: Shape, nodes: Map<string, Node>): Shape => ({
  ...shape,
  contours: shape.contours.map((c) => ({ ...c, nodes: c.nodes.map((n) => nodes.get(n.id) ?? n) })),
});

/** Nodes and handles of the chosen shapes. Corners are square, smooth nodes round. */
export function NodeHandles({ shapes, lens, onDrag, onDone }: Props) {
  const chosen = useDesk((s) => s.nodes);
  const { set } = useDesk.getState();
  const key = useAtHand().editing?.id ?? "";
  const px = 1 / lens.scale;

  const press = (shape: Shape, node: Node, grip: Grip) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    let nodes = chosen.includes(node.id) ? chosen : [node.id];
    if (event.shiftKey)
      nodes = chosen.includes(node.id) ? chosen.filter((n) => n !== node.id) : [...chosen, node.id];
    set({ nodes });
    const moving = shape.contours
      .flatMap((c) => c.nodes)
      .filter((n) => (grip === "at" ? nodes.includes(n.id) : n.id === node.id));
    let operation: Operation | null = null;
    follow(
      (move) => {
        const [dx, dy] = [(move.clientX - event.clientX) * px, (move.clientY - event.clientY) * px];
        if (!operation && Math.hypot(dx, dy) < 2 * px) return;
        const placed = new Map(moving.map((n) => [n.id, dragged(n, grip, dx, dy, move.altKey)]));
        const moves = [...placed.values()].map((n) => ({
          node: n.id,
          at: n.at,
          before: n.before,
          after: n.after,
        }));
        operation = { type: "move_nodes", key, moves };
        onDrag(changed(shape, placed), operation);
      },
      () => operation && onDone(operation),
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
      {shape.contours.flatMap((contour) =>
        contour.nodes.map((node) => {
          const picked = chosen.includes(node.id);
          const paint = {
            fill: picked ? "var(--crust)" : "var(--panel)",
            stroke: "var(--rye)",
            strokeWidth: 1.5 * px,
          };
          return (
            <g key={node.id}>
              {picked &&
                (["before", "after"] as const).map((grip) => (
                  <g key={grip}>
                    <line
                      x1={node.at[0]}
                      y1={node.at[1]}
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
                      onPointerDown={press(shape, node, grip)}
                    />
                  </g>
                ))}
              {node.kind === "smooth" ? (
                <circle
                  data-node={node.id}
                  cx={node.at[0]}
                  cy={node.at[1]}
                  r={4.5 * px}
                  {...paint}
                  cursor="move"
                  onPointerDown={press(shape, node, "at")}
                />
              ) : (
                <rect
                  data-node={node.id}
                  x={node.at[0] - 4 * px}
                  y={node.at[1] - 4 * px}
                  width={8 * px}
                  height={8 * px}
                  {...paint}
                  cursor="move"
                  onPointerDown={press(shape, node, "at")}
                />
              )}
            </g>
          );
        }),
      )}
    </g>
  ));
}
