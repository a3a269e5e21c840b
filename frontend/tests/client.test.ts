import { afterEach, expect, test, vi } from "vitest";

/** The client as a page loads it, with answers of the test's own. */
async function client(answer: () => Promise<Response>) {
  vi.resetModules();
  const asked: Request[] = [];
  vi.stubGlobal("fetch", (request: Request) => {
    asked.push(request);
    return answer();
  });
  // openapi-fetch asks by path; a page has an address to go with it, a test has not
  const { Request: Plain } = globalThis;
  vi.stubGlobal(
    "Request",
    class extends Plain {
      constructor(address: string, options: RequestInit) {
        super(new URL(address, "http://127.0.0.1:8420"), options);
      }
    },
  );
  return { asked, ...(await import("../src/api/client")) };
}

const json = (body: unknown, status: number) => async () =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });

afterEach(() => vi.unstubAllGlobals());

test("an edit goes to its scene with the revision it was made on", async () => {
  const { api, asked } = await client(json({ revision: 8 }, 200));
  const answer = await api.edit("pond", 7, { type: "set_scene", name: "Dusk" } as never);
  expect(answer).toEqual({ revision: 8 });
  expect([asked[0]?.method, new URL(asked[0]?.url ?? "").pathname]).toEqual([
    "POST",
    "/api/scenes/pond/edits",
  ]);
  expect(await asked[0]?.json()).toEqual({ base: 7, operation: { type: "set_scene", name: "Dusk" } });
});

test("a server that says no is heard in its own words", async () => {
  const { api, Problem } = await client(json({ detail: "Layer 'lily' is locked." }, 422));
  const refusal = await api.undo("pond", 1).catch((error) => error);
  expect(refusal).toBeInstanceOf(Problem);
  expect([refusal.status, refusal.message]).toEqual([422, "Layer 'lily' is locked."]);
});

test("a server that breaks, or says no without words, is told in a plain sentence", async () => {
  const broken = await client(async () => new Response("<html>oops</html>", { status: 500 }));
  await expect(broken.api.open("pond")).rejects.toThrow("The scene is as it was before.");
  const dumb = await client(json({ detail: [{ loc: ["body"] }] }, 422));
  await expect(dumb.api.open("pond")).rejects.toThrow("This could not be done.");
});

test("a server that can't be reached is another matter than one that says no", async () => {
  const { api, Unreachable } = await client(() => Promise.reject(new TypeError("network")));
  await expect(api.open("pond")).rejects.toBeInstanceOf(Unreachable);
});

test("files are sent as files", async () => {
  const { api, asked } = await client(json({ scene: { id: "s" }, lost: [] }, 200));
  await api.bringIn([new File(["<svg/>"], "frog.svg", { type: "image/svg+xml" })]);
  expect(asked[0]?.headers.get("Content-Type")).toContain("multipart/form-data");
});
