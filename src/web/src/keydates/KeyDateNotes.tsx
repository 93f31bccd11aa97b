import { Link } from 'react-router';
import { clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { useWorkspaceLink, useWorkspacePath } from '../workspaces/workspace';
import { KindMark } from './KeyDateMark';
import { comingKey, useKeyDateActs, useKeyDateKinds, useKeyDateNeeds } from './keyDates';

/** What key dates ask of somebody today: what has to be done, and what hasn't followed one that moved. */
export function KeyDateNotes() {
  const mayPlan = useWorkspaceLink().rights.includes('schedule');
  const needs = useKeyDateNeeds(mayPlan).data;
  const kinds = new Map((useKeyDateKinds().data ?? []).map((k) => [k.id, k]));
  const { editComing } = useKeyDateActs();
  const { to } = useWorkspacePath();
  if (!needs || needs.live.length + needs.movedAway.length === 0) return null;
  return (
    <ul className="ruled mb-4 border-ink border-t-[1.5px]">
      {needs.live.map((keyDate) => (
        <li key={comingKey(keyDate)} data-live={keyDate.title} className="flex items-start gap-3 py-2">
          <span className="min-w-0 flex-1">
            <span className="text-dawn">to be done</span>{' '}
            <Link
              className="link font-medium"
              to={to(`calendar?view=day&on=${keyDate.date}&date=${comingKey(keyDate)}`)}
            >
              {keyDate.title}
            </Link>
            <span className="flex items-center gap-1.5 text-faded text-sm">
              <KindMark kind={kinds.get(keyDate.kindId)} />
              {dayWords(keyDate.date)}
              {keyDate.time ? `, ${clock(keyDate.time)}` : ', all day'}
            </span>
          </span>
          <Button
            aria-label={`${keyDate.title} is done`}
            disabled={editComing.isPending}
            onClick={() => editComing.mutate({ keyDate, edit: { done: true }, words: 'Done, and said so.' })}
          >
            Done
          </Button>
        </li>
      ))}
      {needs.movedAway.map((moved) => (
        <li key={moved.id} data-moved-away={moved.title} className="py-2">
          <span className="text-dawn">{moved.isGone ? 'gone from its calendar' : 'moved'}</span>{' '}
          <Link className="link font-medium" to={to(`calendar?view=month&on=${moved.stood}&date=${moved.id}.-`)}>
            {moved.title}
          </Link>
          : {awayWords(moved.deliveries, moved.isGone)}
        </li>
      ))}
    </ul>
  );
}

const awayWords = (deliveries: number, isGone: boolean) =>
  isGone
    ? `${deliveries === 1 ? 'one delivery stands' : `${deliveries} deliveries stand`} where it was`
    : `${deliveries === 1 ? 'one delivery hasn’t' : `${deliveries} deliveries haven’t`} followed`;
