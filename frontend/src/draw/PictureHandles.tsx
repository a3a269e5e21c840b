import { type PointerEvent as ReactPointerEvent, useState } from "react";
import type { Layer, Picture, Point } from "../api/types";
import { useDesk } from "../desk/state";
import { placeText } from "../stage/PictureShown";
import { follow, type Lens, toScene } from "../stage/viewport";
import { Label } from "./SketchLayer";

type Props = { layer: Layer; picture: Picture; lens: Lens };

/** A picture at hand: drag it to move it, a corner to scale it, the round knob to turn it. */
export function PictureHandles({ layer, picture, lens }: Props) {
  const edit = useDesk((s) => s.edit);
  const [draft, setDraft] = useState<Partial<Picture> | null>(null);
  const px = 1 / lens.scale;
  const { at, scale, turn, width, height } = { ...picture, ...draft };
  const [w, h] = [width * scale, height * scale];
  const [x, y] = at as Point;

  const start = (
    event: ReactPointerEvent,
    change: (point: Point, move: PointerEvent) => Partial<Picture>,
  ) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    const image = svg.querySelector(`[data-picture="${layer.id}"]`);
    let last: Partial<Picture> | null = null;
    follow(
      (move) => {
        last = change(toScene(lens, svg, move), move);
        setDraft(last);
        image?.setAttribute("transform", placeText({ ...picture, ...last }));
      },
      async () => {
        if (last) await edit({ type: "place_picture", layer: layer.id, ...last } as never);
        setDraft(null);
      },
      () => {
        setDraft(null);
        image?.setAttribute("transform", placeText(picture));
      },
    );
  };

  const move = (event: ReactPointerEvent) => {
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    const [x0, y0] = toScene(lens, svg, event);
    const [ax, ay] = picture.at as Point;
    start(event, (p) => ({ at: [ax + p[0] - x0, ay + p[1] - y0] }));
  };
  const corner = (event: ReactPointerEvent) =>
    start(event, (p) => {
      const reach = Math.hypot(picture.width, picture.height) / 2;
      return { scale: Math.max(0.01, Math.hypot(p[0] - x, p[1] - y) / reach) };
    });
  const swing = (event: ReactPointerEvent) =>
    start(event, (p, m) => {
      const angle = (Math.atan2(p[1] - y, p[0] - x) * 180) / Math.PI + 90;
      return { turn: m.shiftKey ? Math.round(angle / 15) * 15 : angle };
    });

  const line = { fill: "none", stroke: "var(--rye)", strokeWidth: 1.25 * px };
  const knobs = { fill: "var(--panel)", stroke: "var(--rye)", strokeWidth: 1.5 * px };
  return (
    <g transform={`translate(${x} ${y}) rotate(${turn})`} data-testid="picture-box">
      <rect
        x={-w / 2}
        y={-h / 2}
        width={w}
        height={h}
        {...line}
        fill="transparent"
        strokeDasharray={`${6 * px} ${4 * px}`}
        cursor="move"
        onPointerDown={move}
      />
      <line x1={0} x2={0} y1={-h / 2} y2={-h / 2 + 22 * px} {...line} />
      <circle cx={0} cy={-h / 2 + 22 * px} r={6 * px} {...knobs} cursor="grab" onPointerDown={swing} />
      {[-0.5, 0.5].flatMap((u) =>
        [-0.5, 0.5].map((v) => (
          <rect
            key={`${u} ${v}`}
            x={u * w - 5 * px}
            y={v * h - 5 * px}
            width={10 * px}
            height={10 * px}
            rx={2 * px}
            {...knobs}
            cursor="nwse-resize"
            onPointerDown={corner}
          />
        )),
      )}
      {draft && (
        <Label at={[-w / 2, h / 2 + 16 * px]} px={px}>
          {`${Math.round(w)} × ${Math.round(h)} · ${Math.round(turn)}°`}
        </Label>
      )}
    </g>
  );
}
