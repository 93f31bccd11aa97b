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

/** Milliseconds that the loop takes on the machine that targets in milliseconds are meant for. */
const meant = 33;

/** Holds milliseconds against a target on the machine it is meant for: on a slower one, by this loop, it is as much longer. */
export const withinAt = (loop, milliseconds, most) => milliseconds < most * Math.max(1, loop / meant);

/** The middle of five loops, for what `withinAt` asks. */
export const steadyLoop = () => Array.from({ length: 5 }, loopMilliseconds).toSorted((a, b) => a - b)[2];

/** A target in words. */
export const under = (most) => `under ${most} ms at a loop of ${meant}`;
