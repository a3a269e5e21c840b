import recordings from "./recordings.json";

/** Position as a share of the paper's width and height, pressure 0 to 1, tilt in degrees, time in ms since the press. */
type Sample = { x: number; y: number; pressure: number; tiltX: number; tiltY: number; time: number };

const STROKES = recordings as Record<string, Sample[]>;
export const RECORDINGS = Object.keys(STROKES);

function pointer(type: string, sample: Sample, paper: DOMRect): PointerEvent {
  return new PointerEvent(type, {
    bubbles: true,
    cancelable: true,
    pointerId: 71,
    pointerType: "pen",
    isPrimary: true,
    button: type === "pointermove" ? -1 : 0,
    buttons: type === "pointerup" ? 0 : 1,
    clientX: paper.x + sample.x * paper.width,
    clientY: paper.y + sample.y * paper.height,
    pressure: type === "pointerup" ? 0 : sample.pressure,
    tiltX: sample.tiltX,
    tiltY: sample.tiltY,
  });
}

/** Replay a recorded stroke on the stage, as fast as it was drawn, as the events that a real pen makes. */
export async function replay(name: string) {
  const stage = document.querySelector<SVGSVGElement>("[data-testid=stage]");
  const paper = stage?.querySelector("[data-paper]")?.getBoundingClientRect();
  const samples = STROKES[name];
  const [first] = samples ?? [];
  const last = samples?.at(-1);
  if (!stage || !paper || !samples || !first || !last) return;
  stage.dispatchEvent(pointer("pointerdown", first, paper));
  const begun = performance.now();
  let next = 1;
  while (next < samples.length) {
    const now = await new Promise<number>(requestAnimationFrame);
    for (; next < samples.length && (samples[next] as Sample).time <= now - begun; next++)
      stage.dispatchEvent(pointer("pointermove", samples[next] as Sample, paper));
  }
  stage.dispatchEvent(pointer("pointerup", last, paper));
}
