import type { components } from "./schema";

type Schemas = components["schemas"];

/** What the server answers always has every field, also those that a request may leave out. */
type Full<T> = { [K in keyof T]-?: Full<T[K]> };

export type Point = [number, number];
export type Node = Omit<Full<Schemas["Node"]>, "at" | "before" | "after"> & {
  at: Point;
  before: Point;
  after: Point;
};
export type Contour = { nodes: Node[]; closed: boolean; bounds: Full<Schemas["Stretch"]>[] };
export type Paint = Full<Schemas["Paint"]>;
export type Gradient = NonNullable<Paint["gradient"]>;
export type Fill = Full<Schemas["Fill"]>;
export type Stroke = Full<Schemas["Stroke"]>;
export type Shape = Omit<Full<Schemas["Shape"]>, "contours"> & { contours: Contour[] };
export type Drawing = { shapes: Shape[] };
export type Key = Full<Schemas["Key"]>;
export type Layer = Full<Schemas["Layer"]>;
export type Scene = Full<Schemas["Scene"]>;
export type Ease = Key["span"]["take"]["ease"];
export type Exposure = Schemas["Exposure"];
export type Picture = NonNullable<Layer["picture"]>;
export type Cycle = NonNullable<Layer["cycle"]>;
export type Swatch = Scene["palette"][number];
export type Guide = Scene["guides"][number];
export type DrawingPart = { base: string | null; order: string[]; shapes: Shape[] };
export type SceneView = Omit<Schemas["SceneView"], "scene" | "drawings"> & {
  scene: Scene;
  drawings: Record<string, DrawingPart>;
};
export type DrawingTrial = Omit<Schemas["DrawingTrial"], "shapes"> & { shapes: Shape[] };
export type KeptImage = Schemas["KeptImage"];
export type SpanView = Schemas["SpanView"];
export type Found = Schemas["Found"];
export type PairView = Schemas["PairView"];
export type SnagView = Schemas["SnagView"];
export type ProposalView = Schemas["ProposalView"];
export type HintView = Schemas["HintView"];
export type Look = Schemas["Look"];
export type Track = Schemas["Track"];
export type SceneCard = Schemas["SceneCard"];
export type ExportView = Schemas["ExportView"];
export type ExportOptions = Schemas["ExportOptions"];
export type Operation = Schemas["Edit"]["operation"];
export type Sample = Schemas["Sample"];
