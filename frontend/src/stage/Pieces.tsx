import { memo, useId } from "react";
import { dashesOf, type Gradient, gradientFrame, seenWidth } from "./paint";
import type { Piece } from "./pieces";

function GradientDef({ id, gradient }: { id: string; gradient: Gradient }) {
  const stops = gradient.stops.map((stop, k) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: a stop is known by its place among the stops
    <stop key={k} offset={stop.at} stopColor={stop.color} stopOpacity={stop.opacity} />
  ));
  const { start, end } = gradient;
  if (gradient.kind === "linear")
    return (
      <linearGradient
        id={id}
        gradientUnits="userSpaceOnUse"
        x1={start[0]}
        y1={start[1]}
        x2={end[0]}
        y2={end[1]}
      >
        {stops}
      </linearGradient>
    );
  const { radius, fx, fy, transform } = gradientFrame(gradient);
  return (
    <radialGradient
      id={id}
      gradientUnits="userSpaceOnUse"
      cx={0}
      cy={0}
      r={radius}
      fx={fx}
      fy={fy}
      gradientTransform={transform}
    >
      {stops}
    </radialGradient>
  );
}

const Outline = ({ piece, tint, filled }: { piece: Piece; tint: string; filled: boolean }) => (
  <path
    data-shape={piece.id}
    d={piece.d}
    fill={filled && piece.fill ? tint : "none"}
    fillOpacity={0.22}
    fillRule={piece.fill?.rule}
    stroke={tint}
    strokeWidth={1.5}
    vectorEffect="non-scaling-stroke"
  />
);

type PathProps = { piece: Piece; hidden?: boolean; finest?: number };

/** A shape as an SVG path, or two where its line is wider in places. */
export const PiecePath = memo(function PiecePath({ piece, hidden, finest = 0 }: PathProps) {
  const id = useId().replace(/\W/g, "");
  const { fill, stroke } = piece;
  const plain = stroke && !stroke.dashes.length && stroke.reveal[0] === 0 && stroke.reveal[1] === 1;
  const dashed = stroke && !plain && !piece.brush ? dashesOf(stroke, piece.d) : null;
  const line = stroke && (stroke.paint.gradient ? `url(#${id}s)` : stroke.paint.color);
  return (
    <>
      {fill?.paint.gradient && <GradientDef id={`${id}f`} gradient={fill.paint.gradient} />}
      {stroke?.paint.gradient && <GradientDef id={`${id}s`} gradient={stroke.paint.gradient} />}
      <path
        data-shape={piece.id}
        d={piece.d}
        fill={fill ? (fill.paint.gradient ? `url(#${id}f)` : fill.paint.color) : "none"}
        fillOpacity={fill?.paint.opacity}
        fillRule={fill?.rule}
        stroke={piece.brush ? "none" : (line ?? "none")}
        strokeOpacity={stroke?.paint.opacity}
        strokeWidth={stroke ? seenWidth(piece, finest) : undefined}
        strokeLinecap={stroke?.cap}
        strokeLinejoin={stroke?.join}
        strokeMiterlimit={stroke?.miter_limit}
        strokeDasharray={dashed?.dashes.join(" ")}
        strokeDashoffset={dashed?.offset}
        opacity={piece.opacity}
        visibility={hidden ? "hidden" : undefined}
      />
      {piece.brush && (
        <path
          data-shape={piece.id}
          d={piece.brush}
          fill={line ?? "none"}
          fillOpacity={stroke?.paint.opacity}
          opacity={piece.opacity}
          visibility={hidden ? "hidden" : undefined}
        />
      )}
    </>
  );
});

type Props = { pieces: Piece[]; tint?: string; filled?: boolean; finest?: number };

/** Shapes as SVG paths; with a tint, only their outlines in that colour, or with a wash of it in them. */
export const Pieces = memo(function Pieces({ pieces, tint, filled = false, finest }: Props) {
  return pieces.map((piece) =>
    tint ? (
      <Outline key={piece.id} piece={piece} tint={tint} filled={filled} />
    ) : (
      <PiecePath key={piece.id} piece={piece} finest={finest} />
    ),
  );
});
