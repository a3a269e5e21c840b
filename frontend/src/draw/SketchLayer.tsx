import type { Point } from "../api/types";
import { Label } from "../stage/Label";
import { Pieces } from "../stage/Pieces";
import { pieceOf } from "../stage/pieces";
import type { Lens } from "../stage/viewport";
import { useSketch } from "./sketch";
import type { Catch } from "./snap";
import { type Form, useTools } from "./tools";

/** What is being drawn and not there yet, with its numbers. */
export function SketchLayer({ lens }: { lens: Lens }) {
  const { box, lasso, line, path, catches, trial } = useSketch();
  const px = 1 / lens.scale;
  return (
    <g pointerEvents="none">
      {trial && (
        <g opacity={0.55} data-testid="trial">
          <Pieces pieces={trial.shapes.map(pieceOf)} />
        </g>
      )}
      {trial?.gaps.map(([a, b]) => (
        <line
          key={`${a} ${b}`}
          data-testid="gap"
          x1={a[0]}
          y1={a[1]}
          x2={b[0]}
          y2={b[1]}
          stroke="var(--crust)"
          strokeWidth={3 * px}
          strokeDasharray={`${3 * px} ${2 * px}`}
        />
      ))}
      {box && <SketchBox ends={box.ends} form={box.form} px={px} />}
      {lasso && (
        <polygon
          points={lasso.join(" ")}
          fill="var(--rye)"
          fillOpacity={0.06}
          stroke="var(--rye)"
          strokeWidth={1.5 * px}
          strokeDasharray={`${4 * px}`}
        />
      )}
      {line && <PenLine {...line} px={px} />}
      {path && <PathLine nodes={path.nodes} hover={path.hover} px={px} />}
      {catches.map((each) => (
        <CatchMark key={`${each.kind} ${each.along} ${each.at}`} found={each} px={px} />
      ))}
    </g>
  );
}

function outline(
  form: Form,
  x: number,
  y: number,
  width: number,
  height: number,
  tips: number,
  inner: number,
) {
  if (form === "box") return `M${x} ${y}h${width}v${height}h${-width}Z`;
  const [rx, ry] = [width / 2, height / 2];
  if (form === "ellipse")
    return `M${x} ${y + ry}a${rx} ${ry} 0 1 0 ${width} 0a${rx} ${ry} 0 1 0 ${-width} 0Z`;
  const radii = form === "star" ? [1, inner] : [1];
  const count = tips * radii.length;
  const corner = (k: number) => {
    const [angle, r] = [(2 * Math.PI * k) / count - Math.PI / 2, radii[k % radii.length] as number];
    return `${x + rx + rx * r * Math.cos(angle)} ${y + ry + ry * r * Math.sin(angle)}`;
  };
  return `M${Array.from({ length: count }, (_, k) => corner(k)).join("L")}Z`;
}

function SketchBox({ ends, form, px }: { ends: [Point, Point]; form: Form | null; px: number }) {
  const { points, inner } = useTools();
  const [[x0, y0], [x1, y1]] = ends;
  const [x, y, width, height] = [Math.min(x0, x1), Math.min(y0, y1), Math.abs(x1 - x0), Math.abs(y1 - y0)];
  return (
    <>
      <path
        d={outline(form ?? "box", x, y, width, height, points, inner)}
        fill={form ? "none" : "var(--rye)"}
        fillOpacity={0.06}
        stroke="var(--rye)"
        strokeWidth={1.5 * px}
        strokeDasharray={form ? undefined : `${4 * px}`}
      />
      {form && (
        <Label at={[x + width + 6 * px, y + height + 14 * px]} px={px}>
          {`${Math.round(width)} × ${Math.round(height)}`}
        </Label>
      )}
    </>
  );
}

type PenProps = {
  samples: { x: number; y: number }[];
  nodes: number | null;
  closed: boolean;
  px: number;
};

function PenLine({ samples, nodes, closed, px }: PenProps) {
  const { brush, spare } = useTools();
  const [first] = samples;
  const last = samples.at(-1);
  return (
    <>
      <polyline
        points={samples.map((p) => `${p.x},${p.y}`).join(" ")}
        fill="none"
        stroke={(brush.line ?? spare.line).color}
        strokeWidth={brush.stroke.width}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
      {closed && first && <Ring at={[first.x, first.y]} px={px} />}
      {last && nodes !== null && (
        <Label at={[last.x + 12 * px, last.y - 10 * px]} px={px}>{`${nodes} points`}</Label>
      )}
    </>
  );
}

type PathProps = {
  nodes: { id: string; at: Point; before: Point; after: Point }[];
  hover: Point | null;
  px: number;
};

function PathLine({ nodes, hover, px }: PathProps) {
  const [first] = nodes;
  const last = nodes.at(-1);
  if (!first || !last) return null;
  const rest = nodes.slice(1).map((n, k) => `C${nodes[k]?.after} ${n.before} ${n.at}`);
  return (
    <>
      <path d={`M${first.at}${rest.join("")}`} fill="none" stroke="var(--rye)" strokeWidth={1.75 * px} />
      {hover && (
        <path
          d={`M${last.at}C${last.after} ${hover} ${hover}`}
          fill="none"
          stroke="var(--rye)"
          strokeWidth={px}
          strokeDasharray={`${4 * px}`}
        />
      )}
      <line
        x1={last.before[0]}
        y1={last.before[1]}
        x2={last.after[0]}
        y2={last.after[1]}
        stroke="var(--crust)"
        strokeWidth={px}
      />
      {nodes.map((node, k) => (
        <circle
          key={node.id}
          data-testid="placed"
          cx={node.at[0]}
          cy={node.at[1]}
          r={(k === 0 && nodes.length > 1 ? 6 : 4) * px}
          fill="var(--panel)"
          stroke={k === 0 && nodes.length > 1 ? "var(--crust)" : "var(--rye)"}
          strokeWidth={1.75 * px}
        />
      ))}
    </>
  );
}

/** Marks a place that what is under way meets. */
function Ring({ at: [x, y], px }: { at: Point; px: number }) {
  return <circle cx={x} cy={y} r={6 * px} fill="none" stroke="var(--crust)" strokeWidth={1.75 * px} />;
}

const CAUGHT = { points: "point", outlines: "outline", centres: "centre", guides: "guide", grid: "grid" };

function CatchMark({ found, px }: { found: Catch; px: number }) {
  const [x, y] = found.at;
  const line = { stroke: "var(--crust)", strokeWidth: px };
  return (
    <g data-testid="caught">
      {found.along === "y" && (
        <line x1={x} x2={x} y1={-1e5} y2={1e5} {...line} strokeDasharray={`${5 * px}`} />
      )}
      {found.along === "x" && (
        <line x1={-1e5} x2={1e5} y1={y} y2={y} {...line} strokeDasharray={`${5 * px}`} />
      )}
      {!found.along && <Ring at={found.at} px={px} />}
      <Label at={[x + 9 * px, y - 8 * px]} px={px}>
        {CAUGHT[found.kind]}
      </Label>
    </g>
  );
}
