import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../../api/client';
import { useChannels } from '../../channels/channels';
import { useNetworks } from '../../networks/networks';
import { shortDay } from '../../time/dates';
import { useNotices } from '../../ui/Notices';
import { useWorkspacePath } from '../../workspaces/workspace';
import { findEmoji, useEmoji } from './emoji';
import type { Trigger } from './trigger';

export type Contact = Schemas['ContactView'];

export interface Suggestion {
  key: string;
  /** What it is called. */
  words: string;
  /** What is known of it. */
  more: string;
  /** Written in place of what was typed; a promise where it has to be found out first; null: nothing, the list changes. */
  take: () => string | Promise<string | null>;
}

const most = 8;

function useContacts(enabled: boolean) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['posts', id, 'contacts'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/contacts', { params: { path } })),
    staleTime: 60_000,
    enabled,
  });
}

function useHashtags(enabled: boolean) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['posts', id, 'hashtags'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/hashtags', { params: { path } })),
    staleTime: 60_000,
    enabled,
  });
}

/** What could be meant by what is being typed. */
export function useSuggestions(trigger: Trigger | null): readonly Suggestion[] {
  const contacts = useContactSuggestions(trigger);
  const hashtags = useHashtags(trigger?.kind === 'hashtag').data ?? [];
  const emoji = useEmoji(trigger?.kind === 'emoji').data ?? [];
  if (!trigger) return [];
  switch (trigger.kind) {
    case 'mention':
      return contacts;
    case 'hashtag': {
      const typed = trigger.typed.toLocaleLowerCase();
      return hashtags
        .filter((h) => h.tag.toLocaleLowerCase().startsWith(typed) && h.tag !== trigger.typed)
        .slice(0, most)
        .map((h) => ({ key: h.tag, words: `#${h.tag}`, more: usedWords(h), take: () => `#${h.tag} ` }));
    }
    case 'emoji':
      return findEmoji(emoji, trigger.typed)
        .slice(0, most)
        .map((e) => ({ key: e.unicode, words: `${e.unicode} ${e.label}`, more: '', take: () => e.unicode }));
  }
}

const usedWords = ({ posts, lastSent }: Schemas['HashtagUse']) =>
  `${posts} ${posts === 1 ? 'post' : 'posts'}, ${lastSent ? `last out ${shortDay(lastSent)}` : 'none out yet'}`;

/** People and pages of the address book; and, on the networks of the channels, those that aren't in it yet. */
function useContactSuggestions(trigger: Trigger | null): Suggestion[] {
  const { id, path } = useWorkspacePath();
  const typed = trigger?.kind === 'mention' ? trigger.typed.trim() : '';
  const book = useContacts(trigger?.kind === 'mention').data ?? [];
  const networks = useNetworks().data ?? [];
  const channels = useChannels().data ?? [];
  const client = useQueryClient();
  const { trouble, tell } = useNotices();
  const lookedUp = useQuery({
    queryKey: ['lookUp', id, typed],
    enabled: false,
    queryFn: async () => {
      const keys = [...new Set(channels.filter((c) => c.connection === 'connected').map((c) => c.network))];
      const found = await Promise.all(
        keys.map((network) =>
          ask(
            api.GET('/api/workspaces/{workspaceId}/contacts/look-up', {
              params: { path, query: { network, query: typed } },
            }),
          ).then(
            (accounts) => accounts.map((account) => ({ network, account })),
            // A network that doesn't look accounts up, or can't now, finds nobody.
            () => [],
          ),
        ),
      );
      return found.flat();
    },
  });
  const add = useMutation({
    mutationFn: async ({ network, account }: { network: string; account: Schemas['FoundAccount'] }) => {
      const key = keyOf(account.name, book);
      await ask(
        api.POST('/api/workspaces/{workspaceId}/contacts', {
          params: { path },
          body: { key, name: account.name, kind: account.kind, handles: { [network]: account.handle } },
        }),
      );
      tell(`${account.name} is in the address book now, as ${account.handle} on ${nameOf(network)}.`);
      await client.invalidateQueries({ queryKey: ['posts', id, 'contacts'] });
      return `@{${key}} `;
    },
    onError: (error) => trouble(wordsOf(error)),
  });
  if (trigger?.kind !== 'mention') return [];
  const nameOf = (key: string) => networks.find((n) => n.key === key)?.name ?? key;
  const sought = typed.toLocaleLowerCase();
  const known = book
    .filter((c) =>
      [c.name, c.key, ...Object.values(c.handles).map((h) => h.handle)].some(
        (words) =>
          words
            .toLocaleLowerCase()
            .split(/[\s-]+/)
            .some((word) => word.startsWith(sought)) || words.toLocaleLowerCase().startsWith(sought),
      ),
    )
    .slice(0, most)
    .map((c) => ({
      key: c.id,
      words: c.name,
      more: Object.keys(c.handles).map(nameOf).join(', ') || 'no handle yet',
      take: () => `@{${c.key}} `,
    }));
  if (typed.length < 2) return known;
  const found = (lookedUp.data ?? []).map(({ network, account }) => ({
    key: `${network} ${account.handle}`,
    words: account.name,
    more: `@${account.handle} on ${nameOf(network)}, ${account.followers.toLocaleString('en-GB')} followers`,
    take: () => add.mutateAsync({ network, account }).catch(() => null),
  }));
  const ask1 = {
    key: 'look up',
    words: lookedUp.isFetching
      ? 'Looking …'
      : lookedUp.data
        ? `Nobody else called “${typed}” was found`
        : `Look “${typed}” up on the networks`,
    more: '',
    take: async () => {
      if (!lookedUp.data) await lookedUp.refetch();
      return null;
    },
  };
  return [...known, ...found, ...(found.length > 0 ? [] : [ask1])];
}

/** How texts mention somebody new: by the name, in letters that are taken. */
function keyOf(name: string, book: readonly Contact[]): string {
  const plain =
    name
      .normalize('NFD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 36) || 'somebody';
  const taken = new Set(book.map((c) => c.key.toLowerCase()));
  let key = plain;
  for (let n = 2; taken.has(key); n++) key = `${plain}-${n}`;
  return key;
}
