import { imageUrl } from "../api/client";
import type { Layer, Picture } from "../api/types";

/** Where a picture lies, as SVG writes it. */
export const placeText = ({ at, scale, turn, width, height }: Picture) =>
  `translate(${at}) rotate(${turn}) scale(${scale}) translate(${-width / 2} ${-height / 2})`;

type Props = { layer: Layer; picture: Picture; frame: number; over: boolean };

/** The picture of a layer, where and when it is there. `over` a drawing, its white lets the drawing through. */
export function PictureShown({ layer, picture, frame, over }: Props) {
  if (frame < picture.first || frame > (picture.last ?? frame)) return null;
  return (
    <g
      opacity={layer.opacity}
      pointerEvents="none"
      data-testid="picture"
      style={{ mixBlendMode: over ? "multiply" : "normal" }}
    >
      <image
        data-picture={layer.id}
        href={imageUrl(picture.image)}
        width={picture.width}
        height={picture.height}
        transform={placeText(picture)}
        preserveAspectRatio="none"
      />
    </g>
  );
}
