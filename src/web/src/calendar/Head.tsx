import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { addDays, longDay } from '../time/dates';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { Menu, MenuItem } from '../ui/Menu';
import { Empty } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';
import { ScheduleDialog } from './ScheduleDialog';
import { ahead, type Span, type View, views } from './spans';

interface Props {
  view: View;
  span: Span;
  today: string;
  isChoosing: boolean;
  mayPlan: boolean;
  /** Begins a key date. */
  onKeyDate: () => void;
  onView: (view: View) => void;
  /** Null: today. */
  onDate: (date: string | null) => void;
  onChoosing: (on: boolean) => void;
  /** Beside the period. */
  note: ReactNode;
  /** What is shown of it, and how. */
  children: ReactNode;
}

/** What is shown, which way, and the ways on from it: all in one row. */
export function Head({ view, span, today, isChoosing, mayPlan, note, children, ...on }: Props) {
  const { onView, onDate, onChoosing, onKeyDate } = on;
  const isNow = span.from <= today && today <= span.to;
  return (
    <div className="@container -mt-4">
      <div className="mb-0.5 flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <h1 className="!text-xl">{span.title}</h1>
        {note && (
          <div className="min-w-0 max-w-56 flex-1 basis-16 overflow-hidden text-ellipsis whitespace-nowrap">{note}</div>
        )}
        {span.step && (
          <div className="flex gap-1 print:hidden">
            <Button className={small} aria-label={`The ${span.step} before`} onClick={() => onDate(span.before)}>
              ←
            </Button>
            <Button className={small} disabled={isNow} onClick={() => onDate(null)}>
              {view === 'day' ? 'Today' : view === 'posts' ? 'From this week' : `This ${span.step}`}
            </Button>
            <Button className={small} aria-label={`The ${span.step} after`} onClick={() => onDate(span.after)}>
              →
            </Button>
          </div>
        )}
        <div className="hidden @min-[67rem]:block print:hidden">
          <Choice label="View" value={view} options={views} onChange={onView} isTight />
        </div>
        <div className="@min-[67rem]:hidden print:hidden">
          <Menu label="View" triggerClass={menu} trigger={<Down>{views.find((v) => v.value === view)?.label}</Down>}>
            {views.map((v) => (
              <MenuItem key={v.value} onSelect={() => onView(v.value)}>
                {v.label}
              </MenuItem>
            ))}
          </Menu>
        </div>
        <div className="ml-auto flex flex-wrap gap-1.5 print:hidden">
          {isChoosing && (
            <Button aria-pressed="true" className={`${small} !border-dawn`} onClick={() => onChoosing(false)}>
              Stop choosing
            </Button>
          )}
          {children}
          {mayPlan && (
            <PlanMenu
              through={addDays(today, ahead - 1)}
              onChoosing={isChoosing || view === 'year' || view === 'list' || view === 'wall' ? null : onChoosing}
              onKeyDate={onKeyDate}
            />
          )}
        </div>
      </div>
    </div>
  );
}

/** Of what stands in the head: low, so that what is planned begins near the top. */
export const small = '!px-2 !py-0.5 !font-normal';
const menu = 'border-[1.5px] border-rule-strong !py-0.5';

/** Words of what opens a menu. */
export function Down({ children }: { children: ReactNode }) {
  return (
    <>
      {children} <span aria-hidden="true">▾</span>
    </>
  );
}

/** What can be done with what is shown. */
function PlanMenu({
  through,
  onChoosing,
  onKeyDate,
}: {
  through: string;
  /** Null: nothing can be chosen here. */
  onChoosing: ((on: boolean) => void) | null;
  onKeyDate: () => void;
}) {
  const [scheduling, setScheduling] = useState(false);
  return (
    <>
      <Menu label="The calendar:" align="end" triggerClass={menu} trigger={<Down>Plan</Down>}>
        {onChoosing && <MenuItem onSelect={() => onChoosing(true)}>Choose several</MenuItem>}
        <MenuItem onSelect={onKeyDate}>Add a key date</MenuItem>
        <MenuItem onSelect={() => setScheduling(true)}>
          <span data-schedule>
            Schedule two weeks
            <span className="block max-w-60 text-faded text-sm">
              Every place through {longDay(through)} becomes a delivery that only a person changes.
            </span>
          </span>
        </MenuItem>
      </Menu>
      {scheduling && <ScheduleDialog through={through} onClose={() => setScheduling(false)} />}
    </>
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
