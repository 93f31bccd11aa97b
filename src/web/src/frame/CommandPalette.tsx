import { Dialog } from 'radix-ui';
import { useEffect, useId, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useCategories } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { usePosts } from '../posts/posts';
import type { Session } from '../sessions/session';
import { dayWords, mondayOf } from '../time/dates';
import { readTypedDate } from '../time/typed';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

interface Command {
  key: string;
  words: string;
  kind: string;
  to: string;
}

const mostShown = 12;

/** Finds a view, a post, a day, a category, a channel or another workspace by a few letters. */
export function CommandPalette({ session, open, onClose }: { session: Session; open: boolean; onClose: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-28 left-1/2 z-50 w-[36rem] -translate-x-1/2 overflow-hidden rounded-md border border-rule-strong bg-leaf"
        >
          <Dialog.Title className="sr-only">Find or go to</Dialog.Title>
          <Finder session={session} onClose={onClose} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Finder({ session, onClose }: { session: Session; onClose: () => void }) {
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const found = useCommands(session, typed);
  const list = useId();
  const chosen = found[Math.min(at, found.length - 1)];
  const chosenRef = useRef<HTMLDivElement>(null);
  useEffect(() => {
    chosenRef.current?.scrollIntoView({ block: 'nearest' });
  });

  const go = (command: Command | undefined) => {
    if (!command) return;
    onClose();
    navigate(command.to);
  };
  return (
    <>
      <input
        role="combobox"
        aria-expanded="true"
        aria-controls={list}
        aria-activedescendant={chosen ? `${list}-${chosen.key}` : undefined}
        aria-label="Find a post, a day, a view, a client"
        placeholder="A post, a day such as 3 Mar, a view, a client …"
        autoComplete="off"
        className="w-full border-rule border-b bg-transparent px-4 py-3 text-lg outline-none"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, at + 1));
          else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1));
          else if (event.key === 'Enter') go(chosen);
          else return;
          event.preventDefault();
        }}
      />
      <div id={list} role="listbox" aria-label="Found" tabIndex={-1} className="max-h-96 overflow-y-auto py-1">
        {found.map((command) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are the field's, which keeps the focus and names the chosen one
          <div
            key={command.key}
            id={`${list}-${command.key}`}
            ref={command === chosen ? chosenRef : undefined}
            role="option"
            tabIndex={-1}
            aria-selected={command === chosen}
            onClick={() => go(command)}
            className="flex cursor-pointer items-baseline gap-3 px-4 py-1.5 hover:bg-wash aria-selected:bg-wash"
          >
            <span className="flex-1 truncate">{command.words}</span>
            <span className="text-faded text-sm">{command.kind}</span>
          </div>
        ))}
      </div>
      {found.length === 0 && <p className="px-4 pb-3 text-faded">Nothing is called that. Try fewer letters.</p>}
    </>
  );
}

const views: readonly [string, string][] = [
  ['today', 'Today: what needs you'],
  ['calendar', 'Calendar: this week'],
  ['calendar?lanes=category', 'Calendar: this week by category'],
  ['calendar?view=list', 'Calendar: two weeks, with reasons'],
  ['rota', 'Rota: the recurring week'],
  ['bank', 'Bank: all posts'],
  ['posts/new', 'Write a post'],
  ['bank/import', 'Import a sheet'],
  ['results', 'Results by category'],
  ['set-up', 'Set-up: channels, categories, time'],
];

function useCommands(session: Session, typed: string): Command[] {
  const { to } = useWorkspacePath();
  const today = useWorkspace().data?.today;
  const categories = useCategories();
  const channels = useChannels();
  const words = typed.trim().toLowerCase();
  const posts = usePosts({ category: '', stage: '', search: words.length >= 2 ? words : '' });
  return useMemo(() => {
    const date = today ? readTypedDate(words, today) : null;
    const all: Command[] = [
      ...(date ? [{ key: 'day', words: dayWords(date), kind: 'day', to: to(`calendar?week=${mondayOf(date)}`) }] : []),
      ...views.map(([path, name]) => ({ key: path, words: name, kind: 'view', to: to(path) })),
      ...session.workspaces.map((w) => ({ key: w.id, words: w.name, kind: 'client', to: `/w/${w.slug}/today` })),
      ...(categories.data ?? []).map((c) => ({
        key: c.id,
        words: c.name,
        kind: 'category in the bank',
        to: to(`bank?category=${c.id}`),
      })),
      ...(channels.data ?? []).map((c) => ({
        key: c.id,
        words: c.name,
        kind: 'channel in the calendar',
        to: to(`calendar?channel=${c.id}`),
      })),
    ];
    const named = all.filter((c) => c.key === 'day' || c.words.toLowerCase().includes(words));
    const ofBank = words.length < 2 ? [] : (posts.data?.posts ?? []);
    return [
      ...named,
      ...ofBank.map((p) => ({ key: p.id, words: p.title, kind: 'post', to: to(`posts/${p.id}`) })),
    ].slice(0, mostShown);
  }, [words, today, to, session.workspaces, categories.data, channels.data, posts.data]);
}
