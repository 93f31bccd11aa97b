import type { Schemas } from '../api/client';
import { instantWords } from '../time/dates';
import { useWorkspace } from '../workspaces/workspace';
import { figureWord, whole } from './words';

type FigureKind = Schemas['FigureKind'];
const shown: readonly FigureKind[] = [
  'reach',
  'impressions',
  'likes',
  'comments',
  'shares',
  'saves',
  'linkClicks',
  'videoViews',
];

/** The latest figures of one delivery; what the network doesn't tell is left out, not shown as nought. */
export function FigureList({ figures, at }: { figures: Schemas['Figures']; at: string | null }) {
  const zone = useWorkspace().data?.zone;
  return (
    <section>
      <h3>What it earned</h3>
      <dl className="mt-1 grid grid-cols-2 gap-x-6">
        {shown.map((kind) => {
          const value = figures[kind];
          return value === null || value === undefined ? null : (
            <div key={kind} className="flex justify-between border-rule border-b py-1">
              <dt className="text-faded">{figureWord(kind)}</dt>
              <dd className="font-head font-semibold">{whole(value)}</dd>
            </div>
          );
        })}
      </dl>
      {at && zone && <p className="mt-1 text-faded text-sm">Read {instantWords(at, zone)}</p>}
    </section>
  );
}
