import { api } from "../api/client";
import type { KeptImage, Operation } from "../api/types";
import { newId } from "../desk/ids";
import { useDesk } from "../desk/state";

const KINDS = /\.(png|jpe?g|webp|svg)$/i;

/** Lay a kept picture right under the drawn layer at hand, as large as the paper allows, on a layer of its own. */
async function lay(kept: KeptImage, name: string) {
  const { doc, edit, layer, set } = useDesk.getState();
  if (!doc) return;
  const { width, height, layers } = doc.scene;
  const atHand = Math.max(
    0,
    layers.findIndex((l) => l.id === layer),
  );
  const under = layers.slice(atHand).find((l) => !l.picture)?.id ?? null;
  const scale = Math.min(width / kept.width, height / kept.height);
  const id = newId();
  const picture = { ...kept, at: [width / 2, height / 2], scale };
  const done = await edit({ type: "add_picture", id, name, picture, under } as Operation);
  if (done) set({ layer: id, shapes: [], nodes: [], part: "" });
}

const orSay = async (work: () => Promise<void>) => {
  try {
    await work();
  } catch (error) {
    useDesk.getState().set({ notice: { kind: "error", text: (error as Error).message } });
  }
};

/** Lay picture files under the drawing. */
export const layFiles = (files: File[]) =>
  orSay(async () => {
    for (const file of files)
      await lay(await api.keepImage(file), file.name.replace(KINDS, "").slice(0, 100) || "picture");
  });

/** Lay one of the shipped roughs under the drawing. */
export const layRough = (name: string) => orSay(async () => lay(await api.keepRough(name), `rough: ${name}`));
