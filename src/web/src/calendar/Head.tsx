import { Link } from 'react-router';
import { wordsOf } from '../api/client';
import { useSchedule } from '../lineup/lineup';
import { addDays, longDay } from '../time/dates';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { useNotices } from '../ui/Notices';
import { Popover } from '../ui/Popover';
import { Empty } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';
import { type CardPart, cardParts } from './look';
import { SavedViews } from './SavedViews';
import { ahead, type Span, type View, views } from './spans';
import { TakeAlong } from './TakeAlong';

const laneKinds = [
  { value: 'channel', label: 'By channel' },
  { value: 'category', label: 'By category' },
] as const;

interface Props {
  view: View;
  span: Span;
  today: string;
  lanes: 'channel' | 'category';
  isChoosing: boolean;
  mayPlan: boolean;
  /** Begins a key date. */
  onKeyDate: () => void;
  onView: (view: View) => void;
  /** Null: today. */
  onDate: (date: string | null) => void;
  onLanes: (lanes: 'channel' | 'category') => void;
  onChoosing: (on: boolean) => void;
}

/** What is shown, which way, and the ways on from it. */
export function Head({ view, span, today, lanes, isChoosing, mayPlan, ...on }: Props) {
  const { onView, onDate, onLanes, onChoosing, onKeyDate } = on;
  const isNow = span.from <= today && today <= span.to;
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-2">
        <h1>{span.title}</h1>
        {span.step && (
          <div className="flex gap-1 print:hidden">
            <Button aria-label={`The ${span.step} before`} onClick={() => onDate(span.before)}>
              ←
            </Button>
            <Button disabled={isNow} onClick={() => onDate(null)}>
              {view === 'day' ? 'Today' : view === 'posts' ? 'From this week' : `This ${span.step}`}
            </Button>
            <Button aria-label={`The ${span.step} after`} onClick={() => onDate(span.after)}>
              →
            </Button>
          </div>
        )}
        <div className="ml-auto flex gap-2 print:hidden">
          {view !== 'year' && view !== 'list' && view !== 'wall' && mayPlan && (
            <Button
              aria-pressed={isChoosing}
              className="aria-pressed:!border-dawn"
              onClick={() => onChoosing(!isChoosing)}
            >
              {isChoosing ? 'Stop choosing' : 'Choose several'}
            </Button>
          )}
          {mayPlan && <Button onClick={onKeyDate}>Add a key date</Button>}
          {mayPlan && <ScheduleButton through={addDays(today, ahead - 1)} />}
        </div>
      </div>
      <div className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2 print:hidden">
        <Choice label="View" value={view} options={views} onChange={onView} />
        {view === 'lanes' && <Choice label="Lanes" value={lanes} options={laneKinds} onChange={onLanes} />}
        <SavedViews />
        <TakeAlong from={span.from} to={span.to} />
      </div>
    </>
  );
}

/** What stands on a card. */
export function Looks({
  parts,
  onParts,
}: {
  parts: ReadonlySet<CardPart>;
  onParts: (parts: ReadonlySet<CardPart>) => void;
}) {
  return (
    <Popover
      label="What stands on a card"
      trigger={
        <Button className="!px-2 !font-normal">
          On a card <span aria-hidden="true">▾</span>
        </Button>
      }
    >
      <fieldset>
        <legend className="text-faded text-sm">Beside its time</legend>
        {cardParts.map((part) => (
          <label key={part.value} className="flex min-h-7 items-center gap-2 rounded-md px-1 hover:bg-wash">
            <input
              type="checkbox"
              className="size-4 accent-dawn"
              checked={parts.has(part.value)}
              onChange={(event) => {
                const next = new Set(parts);
                event.target.checked ? next.add(part.value) : next.delete(part.value);
                onParts(next);
              }}
            />
            {part.label}
          </label>
        ))}
      </fieldset>
    </Popover>
  );
}

function ScheduleButton({ through }: { through: string }) {
  const schedule = useSchedule();
  const { tell, trouble } = useNotices();
  return (
    <Button
      disabled={schedule.isPending}
      title={`Turns every place through ${longDay(through)} into a delivery that only a person changes`}
      onClick={() =>
        schedule.mutate(through, {
          onSuccess: ({ deliveries }) =>
            tell(
              deliveries === 0
                ? `Everything through ${longDay(through)} was scheduled already.`
                : `Scheduled through ${longDay(through)}: ${deliveries} deliveries that only a person changes now.`,
            ),
          onError: (error) => trouble(wordsOf(error)),
        })
      }
    >
      Schedule two weeks
    </Button>
  );
}

export function NothingPlanned() {
  const { to } = useWorkspacePath();
  return (
    <div className="mb-6">
      <Empty
        title="Nothing goes out in this time"
        act={
          <Link to={to('rota')} className="link">
            Lay out the recurring week
          </Link>
        }
      >
        Slots of the rota appear here by themselves. Or open a post in the bank and set date and time.
      </Empty>
    </div>
  );
}
