import { CategoryName } from '../categories/categories';
import { longDay, shortDay } from '../time/dates';
import { type ImportView, useOutlook } from './imports';
import { count, listed } from './words';

/** In words: what will be made, when it goes out, how far each category's stock lasts then, what is overfilled. */
export function Foretold({ view }: { view: ImportView }) {
  const { counts } = view;
  const outlook = useOutlook(view.line.id, view.revision, view.progress.isComplete).data;
  const made = [
    ...(counts.posts > 0 ? [`${count(counts.posts, 'new post')}`] : []),
    ...(counts.changed > 0 ? [`${count(counts.changed, 'post')} of the bank changed`] : []),
    ...(counts.moved > 0 ? [`${count(counts.moved, 'sending')} moved`] : []),
    ...(counts.unchanged > 0 ? [`${counts.unchanged.toLocaleString('en')} already there, just so`] : []),
    ...(counts.leftOut > 0 ? [`${count(counts.leftOut, 'row')} left out`] : []),
    ...(counts.needsYou > 0
      ? [`${count(counts.needsYou, 'row')} that ${counts.needsYou === 1 ? 'needs' : 'need'} you`]
      : []),
  ];
  return (
    <div className="mb-2 max-w-4xl" aria-live="polite">
      <p>
        {made.length === 0 ? 'Nothing comes of this sheet yet.' : `${capital(listed(made))}.`}{' '}
        {outlook && whenWords(outlook)}
      </p>
      {outlook && outlook.stock.length > 0 && (
        <ul className="flex flex-wrap gap-x-6 text-sm" aria-label="How far each category lasts then">
          {outlook.stock.map((s) => (
            <li key={s.categoryId} className="flex items-center gap-1.5">
              <CategoryName id={s.categoryId} /> <b className="font-head">+{s.posts}</b>
              <span className="text-faded">
                {s.after === s.before
                  ? `first repeat ${s.after ? shortDay(s.after) : 'beyond 26 weeks'}, as now`
                  : `first repeat ${s.after ? shortDay(s.after) : 'beyond 26 weeks'}, now ${s.before ? shortDay(s.before) : 'beyond them'}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      {outlook && outlook.full.length > 0 && (
        <p className="text-bad text-sm">
          Overfilled: {outlook.full.slice(0, 3).join('; ')}
          {outlook.full.length > 3 && ` and ${outlook.full.length - 3} more`}.
        </p>
      )}
    </div>
  );
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

function whenWords({
  timed,
  rotating,
  resting,
  first,
  last,
}: {
  timed: number;
  rotating: number;
  resting: number;
  first: string | null;
  last: string | null;
}) {
  const parts = [
    ...(timed > 0 && first && last
      ? [
          `${timed} at times of their own, ${first === last ? longDay(first) : `${shortDay(first)} to ${longDay(last)}`}`,
        ]
      : []),
    ...(rotating > 0 ? [`${rotating} by rotation`] : []),
    ...(resting > 0 ? [`${resting} out of the rotation, as their category says`] : []),
  ];
  return parts.length > 0 ? `${capital(parts.join('; '))}.` : '';
}
