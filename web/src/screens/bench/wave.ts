/** Which parcels of a wave are still to be packed on this device: after one is closed the next is opened. No React. */

const PLACE = "bench-wave";

export function keepWave(ids: readonly number[]): void {
  window.localStorage.setItem(PLACE, JSON.stringify(ids));
}

function kept(): number[] {
  try {
    const ids: unknown = JSON.parse(window.localStorage.getItem(PLACE) ?? "[]");
    return Array.isArray(ids) ? ids.filter((one): one is number => typeof one === "number") : [];
  } catch {
    return []; // cut off: the bench's list is there all the same
  }
}

/** The wave's next parcel after one that is closed; null when there is none. It is forgotten with its last. */
export function nextOfWave(closed: number): number | null {
  const ids = kept();
  const at = ids.indexOf(closed);
  return at === -1 ? null : (ids[at + 1] ?? null);
}
