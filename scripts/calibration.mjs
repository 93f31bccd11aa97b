/** Machines differ: what work whose amount never changes takes on this one, in words for a line of the bench. */
export function calibration() {
  const start = performance.now();
  let hash = 0n;
  for (let i = 0n; i < 300_000n; i++) hash = ((hash ^ i) * 1099511628211n) & 0xffffffffffffffffn;
  return `calibration loop ${(performance.now() - start).toFixed(0)} ms`;
}
