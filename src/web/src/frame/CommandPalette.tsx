import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, ask } from '../api/client';
import { useCategories } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { usePosts } from '../posts/posts';
import type { Session } from '../sessions/session';
import { dayWords, mondayOf } from '../time/dates';
import { readTypedDate } from '../time/typed';
import { Combobox, type Found } from '../ui/Combobox';
import { Dialog } from '../ui/Dialog';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

interface Command extends Found {
  to: string;
}

const mostShown = 12;

/** Finds a view, a post, a day, a category, a channel or another workspace by a few letters. */
export function CommandPalette({ session, open, onClose }: { session: Session; open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Find or go to" titleHidden className="w-[36rem]">
      <Commands session={session} onClose={onClose} />
    </Dialog>
  );
}

function Commands({ session, onClose }: { session: Session; onClose: () => void }) {
  const [typed, setTyped] = useState('');
  const navigate = useNavigate();
  return (
    <Combobox
      label="Find a post, a day, a view, a client"
      placeholder="A post, a day such as 3 Mar, a view, a client …"
      typed={typed}
      onType={setTyped}
      found={useCommands(session, typed)}
      onChoose={(command) => {
        onClose();
        navigate(command.to);
      }}
    />
  );
}

const views: readonly [string, string][] = [
  ['today', 'Today: what needs you'],
  ['calendar', 'Calendar: this week'],
  ['calendar?lanes=category', 'Calendar: this week by category'],
  ['calendar?view=list', 'Line-up: two weeks, with reasons'],
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
  const elsewhere = usePostsElsewhere(session, words);
  return useMemo(() => {
    const date = today ? readTypedDate(words, today) : null;
    const all: Command[] = [
      ...(date ? [{ key: 'day', words: dayWords(date), kind: 'day', to: to(`calendar?week=${mondayOf(date)}`) }] : []),
      ...views.map(([path, name]) => ({ key: path, words: name, kind: 'view', to: to(path) })),
      ...(session.workspaces.length > 1
        ? [{ key: 'all', words: 'All workspaces at once', kind: 'view', to: '/all' }]
        : []),
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
      ...ofBank.slice(0, mostShown - elsewhere.length).map((p) => ({
        key: p.id,
        words: p.title,
        kind: 'post',
        to: to(`posts/${p.id}`),
      })),
      ...elsewhere,
    ].slice(0, mostShown);
  }, [words, today, to, session.workspaces, categories.data, channels.data, posts.data, elsewhere]);
}

/** Most posts of other workspaces that are shown beside this one's. */
const mostElsewhere = 4;

/** Posts of the other workspaces that somebody belongs to. */
function usePostsElsewhere(session: Session, words: string): Command[] {
  const { id } = useWorkspacePath();
  const found = useQuery({
    queryKey: ['overview', 'posts', words],
    enabled: words.length >= 2 && session.workspaces.length > 1,
    queryFn: () => ask(api.GET('/api/overview/posts', { params: { query: { search: words } } })),
  }).data;
  return useMemo(
    () =>
      (found ?? [])
        .filter((p) => p.workspaceId !== id)
        .slice(0, mostElsewhere)
        .map((p) => {
          const of = session.workspaces.find((w) => w.id === p.workspaceId);
          return { key: p.postId, words: p.title, kind: `post of ${of?.name}`, to: `/w/${of?.slug}/posts/${p.postId}` };
        }),
    [found, id, session.workspaces],
  );
}
