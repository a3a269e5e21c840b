import type { Cycle, Layer, Scene } from "../api/types";

/** How a cycle is placed, as SVG writes it. */
export const placeText = ({ pivot: [x, y], scale, turn, move: [right, down] }: Cycle) =>
  `translate(${x + right} ${y + down}) rotate(${turn}) scale(${scale}) translate(${-x} ${-y})`;

/** The layer whose keys a layer shows: its own, or those that its cycle plays. */
export const sourceOf = (scene: Scene, layer: Layer): Layer =>
  scene.layers.find((each) => each.id === layer.cycle?.layer) ?? layer;
