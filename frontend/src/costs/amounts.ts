/** A span of time in words. */
export function told(milliseconds: number): string {
  return milliseconds < 950
    ? `${milliseconds.toFixed(milliseconds < 9.5 ? 1 : 0)} ms`
    : `${(milliseconds / 1000).toFixed(1)} s`;
}

/** An amount of memory in words. */
export function bytes(count: number): string {
  return count < 1e6 ? `${Math.max(1, Math.round(count / 1e3))} kB` : `${(count / 1e6).toFixed(1)} MB`;
}
