import createClient from "openapi-fetch";
import type { paths } from "./schema";
import type {
  DrawingTrial,
  ExportOptions,
  ExportView,
  KeptImage,
  Operation,
  ProposalView,
  SceneCard,
  SceneView,
  Shape,
  SpanView,
} from "./types";

const client = createClient<paths>({ baseUrl: "/" });

/** An answer that says no, in a sentence for the user. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    sentence: string,
  ) {
    super(sentence);
  }
}

/** The server could not be reached at all. */
export class Unreachable extends Error {}

type Answer = { data?: unknown; error?: unknown; response: Response };

async function asked<T>(request: Promise<Answer>): Promise<T> {
  let answer: Answer;
  try {
    answer = await request;
  } catch {
    throw new Unreachable("The server can't be reached.");
  }
  if (answer.response.ok) return answer.data as T;
  const detail = (answer.error as { detail?: unknown } | undefined)?.detail;
  if (answer.response.status >= 500 && typeof detail !== "string") {
    throw new Problem(answer.response.status, "The server failed at this. The scene is as it was before.");
  }
  throw new Problem(answer.response.status, typeof detail === "string" ? detail : "This could not be done.");
}

function upload(field: string, files: File[]) {
  const form = new FormData();
  for (const file of files) form.append(field, file);
  return { body: form as never, bodySerializer: (body: unknown) => body as never };
}

const scene = (scene_id: string) => ({ params: { path: { scene_id } } });

export const api = {
  scenes: () => asked<SceneCard[]>(client.GET("/api/scenes")),
  newScene: (body: { name: string; width: number; height: number; rate: number; length: number }) =>
    asked<SceneCard>(client.POST("/api/scenes", { body })),
  bringIn: (files: File[]) =>
    asked<{ scene: SceneCard; lost: string[] }>(client.POST("/api/scenes/files", upload("files", files))),
  keepImage: (file: File) => asked<KeptImage>(client.POST("/api/images", upload("file", [file]))),
  roughs: () => asked<string[]>(client.GET("/api/roughs")),
  keepRough: (name: string) =>
    asked<KeptImage>(client.POST("/api/roughs/{name}", { params: { path: { name } } })),
  readShapes: (file: File) =>
    asked<{ shapes: Shape[]; lost: string[] }>(client.POST("/api/shapes", upload("file", [file]))),
  copy: (id: string) => asked<SceneCard>(client.POST("/api/scenes/{scene_id}/copy", scene(id))),
  remove: (id: string) => asked<void>(client.DELETE("/api/scenes/{scene_id}", scene(id))),
  restore: (id: string) => asked<void>(client.POST("/api/scenes/{scene_id}/restore", scene(id))),
  open: (id: string) => asked<SceneView>(client.GET("/api/scenes/{scene_id}", scene(id))),
  edit: (id: string, base: number, operation: Operation) =>
    asked<SceneView>(
      client.POST("/api/scenes/{scene_id}/edits", { ...scene(id), body: { base, operation } }),
    ),
  undo: (id: string, base: number) =>
    asked<SceneView>(client.POST("/api/scenes/{scene_id}/undo", { ...scene(id), body: { base } })),
  redo: (id: string, base: number) =>
    asked<SceneView>(client.POST("/api/scenes/{scene_id}/redo", { ...scene(id), body: { base } })),
  span: (scene_id: string, key: string) =>
    asked<SpanView>(
      client.GET("/api/scenes/{scene_id}/spans/{key}", { params: { path: { scene_id, key } } }),
    ),
  proposals: (scene_id: string, key: string) =>
    asked<ProposalView[]>(
      client.GET("/api/scenes/{scene_id}/spans/{key}/proposals", { params: { path: { scene_id, key } } }),
    ),
  preview: (id: string, base: number, operation: Operation, key: string, look: boolean) =>
    asked<SpanView>(
      client.POST("/api/scenes/{scene_id}/preview", { ...scene(id), body: { base, operation, key, look } }),
    ),
  trial: (id: string, base: number, operation: Operation, key: string) =>
    asked<DrawingTrial>(
      client.POST("/api/scenes/{scene_id}/trial", { ...scene(id), body: { base, operation, key } }),
    ),
  orderExport: (id: string, body: ExportOptions) =>
    asked<ExportView>(client.POST("/api/scenes/{scene_id}/exports", { ...scene(id), body })),
  watchExport: (export_id: string) =>
    asked<ExportView>(client.GET("/api/exports/{export_id}", { params: { path: { export_id } } })),
  cancelExport: (export_id: string) =>
    asked<ExportView>(client.POST("/api/exports/{export_id}/cancel", { params: { path: { export_id } } })),
};

export const pictureUrl = (card: { id: string; revision: number }, frame: number) =>
  `/api/scenes/${card.id}/picture?frame=${frame}&width=480&r=${card.revision}`;
export const imageUrl = (image: string) => `/api/images/${image}`;
export const roughUrl = (name: string) => `/api/roughs/${encodeURIComponent(name)}`;
export const bundleUrl = (id: string) => `/api/scenes/${id}/bundle`;
export const sheetUrl = (scene: string, key: string) => `/api/scenes/${scene}/spans/${key}/sheet`;
export const exportFileUrl = (id: string) => `/api/exports/${id}/file`;
