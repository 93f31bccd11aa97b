import type { Network } from '../../networks/networks';
import { NetworkMark } from '../../networks/networks';
import { Button } from '../../ui/Button';
import { WordChanges } from '../text/WordChanges';
import { channelCount, type Goal, type Reach } from './reach';
import { type FitDone, fixedWords } from './useFit';

interface Props {
  reach: Reach;
  isBegun: boolean;
  isBusy: boolean;
  onFitAll: (networks: string[]) => void;
}

/** Which channels can take it now, which can't and why; in one line. */
export function ReachLine({ reach: { goals, able, unable, isKnown }, isBegun, isBusy, onFitAll }: Props) {
  if (!isKnown) return <p className="text-faded">Looking at it as each network would …</p>;
  if (goals.length === 0) return <p>It goes to no channel yet: choose some above.</p>;
  if (!isBegun)
    return (
      <p className="text-faded">It is to go to {channelCount(goals.length)}. Write what all of them share first.</p>
    );
  const mendable = [
    ...new Set(goals.filter((g) => g.check?.findings.some((f) => f.fixes.length > 0)).map((g) => g.channel.network)),
  ];
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1" data-reach={`${able.length}/${goals.length}`}>
      <p aria-live="polite" className={unable.length === 0 ? '' : 'font-medium'}>
        {unable.length === 0
          ? `${goals.length === 1 ? 'Its channel' : `All ${channelCount(goals.length)}`} can take it now.`
          : `${able.length} of ${channelCount(goals.length)} can take it now.`}
      </p>
      {byReason(unable).map(([why, names]) => (
        <p key={why} className="text-bad text-sm">
          <b>{new Intl.ListFormat('en-GB').format(names)}</b>: {why}
        </p>
      ))}
      {mendable.length > 0 && (
        <Button className="!py-0.5" disabled={isBusy} onClick={() => onFitAll(mendable)}>
          {mendable.length === 1 ? 'Fit it' : 'Fit all'}
        </Button>
      )}
    </div>
  );
}

function byReason(unable: readonly Goal[]): [string, string[]][] {
  const reasons = new Map<string, string[]>();
  for (const { channel, why } of unable) {
    if (why) reasons.set(why, [...(reasons.get(why) ?? []), channel.name]);
  }
  return [...reasons];
}

interface DoneProps {
  last: FitDone;
  networks: readonly Network[];
  onTakeBack: () => void;
  onClose: () => void;
}

/** What was done to make it fit, word by word, and taken back in one press. */
export function FitReport({ last, networks, onTakeBack, onClose }: DoneProps) {
  return (
    <section aria-label="What was mended" className="border-dawn border-l-4 bg-dawn-wash px-4 py-2.5" data-fit>
      <div className="flex items-baseline gap-3">
        <h3 className="flex-1">Mended</h3>
        <Button className="!py-0.5" onClick={onTakeBack}>
          Take it back
        </Button>
        <Button variant="quiet" className="!py-0.5" onClick={onClose}>
          Keep it
        </Button>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what is longer than its place is scrolled by keys too */}
      <ul tabIndex={0} aria-label="What was done" className="ruled mt-1 max-h-56 overflow-y-auto text-sm">
        {last.done.map(({ network, did }, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: done in this order, and never changed
          <li key={i} className="grid grid-cols-[7rem_1fr] gap-3 py-1">
            <span className="inline-flex items-center gap-1.5 self-start">
              <NetworkMark network={network} size={14} />
              {networks.find((n) => n.key === network)?.name ?? network}
            </span>
            <span className="min-w-0">
              <span className="text-faded">
                {fixedWords[did.fix]}
                {did.wording > 0 && `, in wording ${did.wording + 1}`}:{' '}
              </span>
              <WordChanges before={did.before} after={did.after} />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
