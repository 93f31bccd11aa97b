import type { NetworkCheck } from '../../posts/posts';

/** How much of a network's room a text takes, so that several can be compared at a glance. */
export function Gauge({ check }: { check: NetworkCheck }) {
  const over = check.overflowAt !== null;
  const filled = Math.min(1, check.units / check.limit);
  return (
    <span className="flex items-center gap-2 text-sm" data-count={check.units}>
      <span aria-hidden="true" className="block h-1.5 w-14 shrink-0 overflow-hidden rounded-sm bg-wash">
        <span className={`block h-full ${over ? 'bg-bad' : 'bg-ink'}`} style={{ width: `${filled * 100}%` }} />
      </span>
      <span className={`whitespace-nowrap ${over ? 'font-semibold text-bad' : ''}`}>
        <b className="font-head">{check.units.toLocaleString('en-GB')}</b>
        <span className="text-faded"> of {check.limit.toLocaleString('en-GB')}</span>
      </span>
    </span>
  );
}
