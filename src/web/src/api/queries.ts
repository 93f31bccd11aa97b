import type { QueryClient } from '@tanstack/react-query';

/**
 * Which views each topic makes old. A query's key begins with its name, then the workspace. The server tells topics as rows change;
 * an act of this page refreshes by the same table, so that it needn't know who shows what it changed.
 */
export const refreshes = {
  workspace: ['workspace', 'lineUp'],
  channels: ['channels', 'channelGroups', 'lineUp', 'needs', 'runway'],
  calendar: ['calendar'],
  categories: ['categories', 'lineUp', 'results', 'runway'],
  rota: ['rota', 'lineUp', 'runway'],
  posts: ['posts', 'post', 'categories', 'lineUp', 'results', 'runway', 'media'],
  media: ['media', 'posts', 'post'],
  deliveries: ['lineUp', 'needs', 'posts', 'post', 'delivery', 'results', 'runway'],
  results: ['results', 'delivery'],
  imports: ['imports'],
  changes: ['changes'],
  desk: ['presence'],
  clock: ['workspace', 'clock', 'lineUp', 'needs', 'results'],
} as const satisfies Record<string, readonly string[]>;

export type Topic = keyof typeof refreshes;

/** Names of queries that are told apart by workspace. */
export type QueryName = (typeof refreshes)[Topic][number];

/** Fetches again whatever some topics make old. */
export function refresh(client: QueryClient, workspace: string, topics: Iterable<Topic>): Promise<unknown> {
  const names = new Set<QueryName>();
  for (const topic of topics) for (const name of refreshes[topic]) names.add(name);
  return Promise.all([
    ...[...names].map((name) => client.invalidateQueries({ queryKey: [name, workspace] })),
    // What shows all workspaces shows this one.
    client.invalidateQueries({ queryKey: ['overview'] }),
  ]);
}

export const isTopic = (word: string): word is Topic => word in refreshes;
