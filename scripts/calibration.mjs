/** Machines differ, and one differs from hour to hour, in memory more than in reckoning: milliseconds that work whose amount never changes
 * takes on this one; it makes many small values, as our own code does. About 33 on a quick machine. */
export function loopMilliseconds() {
  const start = performance.now();
  let hash = 0n;
  for (let i = 0n; i < 300_000n; i++) hash = ((hash ^ i) * 1099511628211n) & 0xffffffffffffffffn;
  return performance.now() - start;
}

/** The same in words for a line of the bench. */
export const calibration = () => `calibration loop ${loopMilliseconds().toFixed(0)} ms`;
