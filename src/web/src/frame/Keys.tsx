import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Session } from '../sessions/session';
import { Button } from '../ui/Button';
import { Dialog } from '../ui/Dialog';
import { useWorkspacePath } from '../workspaces/workspace';
import { CommandPalette } from './CommandPalette';

/** Single keys for the frequent acts; each goes to a view. */
const jumps: Readonly<Record<string, { to: string; words: string }>> = {
  t: { to: 'today', words: 'Today' },
  c: { to: 'calendar', words: 'Calendar' },
  l: { to: 'calendar?view=list', words: 'Line-up with reasons' },
  r: { to: 'rota', words: 'Rota' },
  b: { to: 'bank', words: 'Bank' },
  w: { to: 'posts/new', words: 'Write a post' },
  i: { to: 'bank/import', words: 'Import a sheet' },
  e: { to: 'results', words: 'Results' },
};

const others: readonly [string, string][] = [
  ['/', 'Find or go to'],
  ['?', 'This sheet'],
  ['Alt ← →', 'On a card: a day earlier, a day later'],
  ['Alt ↑ ↓', 'On a card: half an hour earlier, later'],
  ['Esc', 'Close what is open'],
];

/** Listens for the keys over every view, and shows the finder and the sheet of keys. */
export function Keys({ session }: { session: Session }) {
  const { to } = useWorkspacePath();
  const navigate = useNavigate();
  const [shown, setShown] = useState<'finder' | 'sheet' | null>(null);

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.altKey || event.metaKey || event.ctrlKey || event.defaultPrevented || isTyping(event.target)) return;
      if (document.querySelector('[role=dialog]:not([data-sheet]), [role=menu], [role=listbox]')) return;
      const jump = jumps[event.key];
      if (event.key === '/') setShown('finder');
      else if (event.key === '?') setShown('sheet');
      else if (jump) navigate(to(jump.to));
      else return;
      event.preventDefault();
    };
    addEventListener('keydown', press);
    return () => removeEventListener('keydown', press);
  }, [navigate, to]);

  return (
    <>
      <Button variant="quiet" className="!font-normal !px-2" onClick={() => setShown('finder')}>
        Find <kbd className="rounded-sm border border-rule-strong px-1 text-xs">/</kbd>
      </Button>
      <CommandPalette session={session} open={shown === 'finder'} onClose={() => setShown(null)} />
      <Dialog open={shown === 'sheet'} onClose={() => setShown(null)} title="Keys">
        <dl className="mt-2 grid grid-cols-[repeat(2,auto)] gap-x-8 gap-y-1.5">
          {[...Object.entries(jumps).map(([key, { words }]) => [key, words] as const), ...others].map(
            ([key, words]) => (
              <div key={key} className="flex gap-3">
                <dt className="w-18 shrink-0">
                  <kbd className="whitespace-nowrap rounded-sm border border-rule-strong px-1.5 font-text">{key}</kbd>
                </dt>
                <dd>{words}</dd>
              </div>
            ),
          )}
        </dl>
      </Dialog>
    </>
  );
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}
