type Part = Record<string, unknown>;

/**
 * The new of two JSON values, in which all that is as in the old one is the old one's: what shows it need not be drawn
 * anew. Rows of numbers are as before or new, as a whole: copying the points of a span number by number took longer
 * than painting them.
 */
export function takenOver<T>(old: T, now: T): T {
  if (old === now || typeof old !== "object" || typeof now !== "object" || !old || !now) return now;
  if (Array.isArray(old) && Array.isArray(now)) return listTakenOver(old, now) as T;
  if (Array.isArray(old) || Array.isArray(now)) return now;
  const before = old as Part;
  const names = Object.keys(now);
  const found: Part = {};
  let same = names.length === Object.keys(before).length;
  for (const name of names) {
    found[name] = takenOver(before[name], (now as Part)[name]);
    same &&= name in before && found[name] === before[name];
  }
  return same ? old : (found as T);
}

function listTakenOver(old: unknown[], now: unknown[]): unknown[] {
  if (typeof now[0] === "number") {
    return old.length === now.length && now.every((value, k) => value === old[k]) ? old : now;
  }
  const found = now.map((value, k) => takenOver(old[k], value));
  return old.length === found.length && found.every((value, k) => value === old[k]) ? old : found;
}
