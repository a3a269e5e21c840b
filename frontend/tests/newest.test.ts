import { expect, test, vi } from "vitest";
import { Newest } from "../src/desk/newest";

/** A question whose answer the test gives. */
function question<T>() {
  let answer: (value: T) => void = () => {};
  let refuse: (reason: Error) => void = () => {};
  const asked = { times: 0 };
  const promise = new Promise<T>((done, fail) => {
    answer = done;
    refuse = fail;
  });
  const ask = () => {
    asked.times++;
    return promise;
  };
  return { ask, answer, refuse, asked };
}

const settled = () => new Promise((done) => setTimeout(done));

test("while one question is asked, only the newest of those that come is asked next", async () => {
  const newest = new Newest();
  const seen: string[] = [];
  const [first, second, third] = [question<string>(), question<string>(), question<string>()];
  for (const q of [first, second, third]) newest.ask(q.ask, (answer) => seen.push(answer ?? "none"));
  expect([first.asked.times, second.asked.times, third.asked.times]).toEqual([1, 0, 0]);
  first.answer("one");
  await settled();
  expect([second.asked.times, third.asked.times]).toEqual([0, 1]);
  third.answer("three");
  await settled();
  expect(seen).toEqual(["one", "three"]);
});

test("what is to be asked at rest is asked once nothing else was asked for a while, unless all is forgotten", async () => {
  vi.useFakeTimers();
  const newest = new Newest();
  const seen: (string | null)[] = [];
  const say = (word: string) => [async () => word, (answer: string | null) => seen.push(answer)] as const;
  newest.ask(...say("first"));
  newest.askAtRest(...say("too soon"));
  await vi.advanceTimersByTimeAsync(200);
  newest.ask(...say("second"));
  newest.askAtRest(...say("at rest"));
  await vi.advanceTimersByTimeAsync(200);
  expect(seen).toEqual(["first", "second"]);
  await vi.advanceTimersByTimeAsync(200);
  expect(seen).toEqual(["first", "second", "at rest"]);
  const slow = question<string>();
  newest.ask(slow.ask, (answer) => seen.push(answer));
  newest.askAtRest(...say("after the slow one"));
  await vi.advanceTimersByTimeAsync(1000);
  slow.answer("slow");
  await vi.advanceTimersByTimeAsync(200);
  expect(seen.at(-1)).toBe("slow");
  await vi.advanceTimersByTimeAsync(200);
  expect(seen.at(-1)).toBe("after the slow one");
  newest.askAtRest(...say("forgotten"));
  newest.forget();
  await vi.advanceTimersByTimeAsync(1000);
  expect(seen).toHaveLength(5);
  vi.useRealTimers();
});

test("a question that fails answers with nothing, and the next is asked", async () => {
  const newest = new Newest();
  const seen: (string | null)[] = [];
  const [first, second] = [question<string>(), question<string>()];
  newest.ask(first.ask, (answer) => seen.push(answer));
  newest.ask(second.ask, (answer) => seen.push(answer));
  first.refuse(new Error("no"));
  await settled();
  second.answer("two");
  await settled();
  expect(seen).toEqual([null, "two"]);
});

test("what was asked before all was forgotten is not answered, what is asked after it is", async () => {
  const newest = new Newest();
  const seen: (string | null)[] = [];
  const [first, dropped, later] = [question<string>(), question<string>(), question<string>()];
  newest.ask(first.ask, (answer) => seen.push(answer));
  newest.ask(dropped.ask, (answer) => seen.push(answer));
  newest.forget();
  newest.ask(later.ask, (answer) => seen.push(answer));
  first.answer("one");
  await settled();
  later.answer("later");
  await settled();
  expect(seen).toEqual(["later"]);
  expect(dropped.asked.times).toBe(0);
});
