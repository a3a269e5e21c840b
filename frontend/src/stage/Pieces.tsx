import { memo } from "react";
import type { Piece } from "./pieces";

const PiecePath = memo(function PiecePath({ piece, tint }: { piece: Piece; tint?: string | undefined }) {
  return (
    <path
      data-shape={piece.id}
      d={piece.d}
      fill={tint ? "none" : (piece.fill ?? "none")}
      fillRule={piece.rule}
      stroke={tint ?? piece.stroke ?? "none"}
      strokeWidth={tint ? 1.5 : piece.width}
      vectorEffect={tint ? "non-scaling-stroke" : undefined}
      strokeLinecap={piece.cap}
      strokeLinejoin={piece.join}
      strokeMiterlimit={piece.miterLimit}
      opacity={tint ? undefined : piece.opacity}
    />
  );
});

/** Shapes as SVG paths; with a tint, only their outlines in that colour. */
export const Pieces = memo(function Pieces({ pieces, tint }: { pieces: Piece[]; tint?: string }) {
  return pieces.map((piece) => <PiecePath key={piece.id} piece={piece} tint={tint} />);
});
