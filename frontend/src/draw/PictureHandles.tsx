import type { Layer, Picture, Point } from "../api/types";
import { useDesk } from "../desk/state";
import { placeText } from "../stage/PictureShown";
import { PlacingBox } from "../stage/PlacingBox";
import type { Lens } from "../stage/viewport";

type Props = { layer: Layer; picture: Picture; lens: Lens };

/** A picture at hand, to be placed. */
export function PictureHandles({ layer, picture, lens }: Props) {
  const edit = useDesk((s) => s.edit);
  return (
    <PlacingBox
      name="picture-box"
      placed={{ at: picture.at as Point, scale: picture.scale, turn: picture.turn }}
      size={[picture.width, picture.height]}
      lens={lens}
      show={(placed) =>
        document
          .querySelector(`[data-picture="${layer.id}"]`)
          ?.setAttribute("transform", placeText({ ...picture, ...placed }))
      }
      keep={(changes) => edit({ type: "place_picture", layer: layer.id, ...changes } as never)}
    />
  );
}
