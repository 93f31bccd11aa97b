import { useState } from 'react';
import { wordsOf } from '../api/client';
import { canShift, few, usePlanAct, usePlanActPreview } from '../lineup/acts';
import type { PostTime } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import { useNotices } from '../ui/Notices';
import { Popover } from '../ui/Popover';
import { useWorkspaceLink } from '../workspaces/workspace';

const steps = [
  { days: 1, label: 'A day later' },
  { days: 7, label: 'A week later' },
  { days: 14, label: 'A fortnight later' },
  { days: 28, label: 'Four weeks later' },
  { days: -1, label: 'A day earlier' },
  { days: -7, label: 'A week earlier' },
] as const;

interface Props {
  cards: readonly PostTime[];
  onClear: () => void;
}

/** What can be done with the chosen posts as one: each act is undone as one. */
export function ChosenBar({ cards, onClear }: Props) {
  const plan = usePlanAct();
  const { trouble } = useNotices();
  const mayPlan = useWorkspaceLink().rights.includes('schedule');
  if (cards.length === 0) return null;
  const entries = cards.flatMap((c) => c.entries);
  const count = cards.length === 1 ? 'One post' : `${cards.length} posts`;
  const act = (what: Parameters<typeof plan.mutate>[0]) =>
    what.entries.length === 0
      ? trouble('That can’t be done with any of what is chosen: it is sent, stopped or empty.')
      : plan.mutate(what, { onSuccess: onClear });
  const by = (days: number, minutes = 0) => {
    const words = [
      days !== 0 && `${Math.abs(days)} ${Math.abs(days) === 1 ? 'day' : 'days'}`,
      minutes !== 0 && `${Math.abs(minutes)} minutes`,
    ]
      .filter(Boolean)
      .join(' and ');
    return `${words} ${days < 0 || (days === 0 && minutes < 0) ? 'earlier' : 'later'}`;
  };
  const movable = entries.filter(canShift);
  const shift = (days: number, minutes = 0, planStamp?: number) =>
    act({
      act: 'shift',
      entries: movable,
      days,
      minutes,
      planStamp,
      words: () => `${count} moved ${by(days, minutes)}.`,
    });
  const copy = (days: number) =>
    act({ act: 'copy', entries: entries.filter((e) => e.postId), days, words: () => `${count} copied ${by(days)}.` });
  return (
    <section
      aria-label="Chosen posts"
      data-chosen={cards.length}
      className="fixed inset-x-0 bottom-0 z-20 flex flex-wrap items-center gap-2 border-ink border-t-[1.5px] bg-paper px-6 py-2 print:hidden"
    >
      <b className="mr-1 font-head">{count} chosen</b>
      {mayPlan && (
        <>
          <Menu label="The chosen posts:" trigger="Move ▾" triggerClass="border-[1.5px] border-rule-strong bg-leaf">
            <MenuText>All of them</MenuText>
            {steps.map((s) => (
              <MenuItem key={s.days} onSelect={() => shift(s.days)}>
                {s.label}
              </MenuItem>
            ))}
            <MenuItem onSelect={() => shift(0, 60)}>An hour later</MenuItem>
            <MenuItem onSelect={() => shift(0, -60)}>An hour earlier</MenuItem>
          </Menu>
          <ByDays act="Move by days" entries={movable} onDo={(days, stamp) => shift(days, 0, stamp)} />
          <Menu label="The chosen posts:" trigger="Copy ▾" triggerClass="border-[1.5px] border-rule-strong bg-leaf">
            <MenuText>All of them once more</MenuText>
            {steps
              .filter((s) => s.days > 0)
              .map((s) => (
                <MenuItem key={s.days} onSelect={() => copy(s.days)}>
                  {s.label}
                </MenuItem>
              ))}
          </Menu>
          <Button
            disabled={plan.isPending}
            onClick={() =>
              act({ act: 'cancel', entries: entries.filter(mayStop), words: (done) => `${done} cancelled or skipped.` })
            }
          >
            Cancel them
          </Button>
          <Button
            disabled={plan.isPending}
            onClick={() =>
              act({
                act: 'askForApproval',
                entries: entries.filter((e) => e.postId),
                words: (done) => `${done === 1 ? 'One post waits' : `${done} posts wait`} for approval.`,
              })
            }
          >
            Ask for approval
          </Button>
        </>
      )}
      <Button variant="quiet" className="ml-auto" onClick={onClear}>
        Choose none
      </Button>
    </section>
  );
}

const mayStop = (entry: PostTime['entries'][0]) => entry.may.includes('cancel') || entry.may.includes('skipThisOne');

interface ByDaysProps {
  act: string;
  entries: readonly Entry[];
  onDo: (days: number, planStamp: number | undefined) => void;
}

/** Moves by any number of days, and says before what comes of it. */
function ByDays({ act, entries, onDo }: ByDaysProps) {
  const [days, setDays] = useState(7);
  const [open, setOpen] = useState(false);
  const preview = usePlanActPreview({ act: 'shift', entries: open ? entries : [], days });
  const would = preview.data;
  return (
    <Popover label={act} open={open} onOpenChange={setOpen} trigger={<Button>By days …</Button>}>
      <form
        className="flex max-w-80 flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setOpen(false);
          onDo(days, would?.planStamp);
        }}
      >
        <div className="flex items-end gap-2">
          <Field label="Days later; below nought, earlier">
            {(id) => (
              <input
                id={id}
                type="number"
                className="field w-28"
                min={-366}
                max={366}
                value={days}
                onChange={(event) => setDays(event.target.valueAsNumber || 0)}
              />
            )}
          </Field>
          <Button type="submit" variant="primary" disabled={days === 0 || preview.isFetching || would?.done === 0}>
            {act}
          </Button>
        </div>
        <output className="block min-h-10 text-sm" data-would={would?.done}>
          {preview.error && wordsOf(preview.error)}
          {would && !preview.error && (
            <>
              {would.done === 0
                ? 'Nothing moves.'
                : `${would.done} ${would.done === 1 ? 'sending moves' : 'sendings move'}.`}
              {would.leftOut.length > 0 && ` ${would.leftOut.length} stay:`}
              {[...few(would.leftOut), ...few(would.remarks)].map((words) => (
                <span key={words} className="block text-faded">
                  {words}
                </span>
              ))}
            </>
          )}
        </output>
      </form>
    </Popover>
  );
}
