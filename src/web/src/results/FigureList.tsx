import type { Schemas } from '../api/client';
import { instantWords } from '../time/dates';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspace } from '../workspaces/workspace';
import { whole } from './words';

/** The latest figures of one delivery; what the network doesn't tell is left out, not shown as nought. */
export function FigureList({ figures, at }: { figures: Schemas['FigureSet']; at: string | null }) {
  const zone = useWorkspace().data?.zone;
  const kinds = useVocabulary().data?.figures ?? [];
  return (
    <section>
      <h3>What it earned</h3>
      <dl className="mt-1 grid grid-cols-2 gap-x-6">
        {kinds.map(({ key, words }) => {
          const value = figures[key];
          return value === undefined ? null : (
            <div key={key} className="flex justify-between border-rule border-b py-1">
              <dt className="text-faded">{words}</dt>
              <dd className="font-head font-semibold">{whole(value)}</dd>
            </div>
          );
        })}
      </dl>
      {at && zone && <p className="mt-1 text-faded text-sm">Read {instantWords(at, zone)}</p>}
    </section>
  );
}
