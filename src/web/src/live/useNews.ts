import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { listenToNews } from './newsLine';

/** Which queries each topic of the server makes old; a query's key begins with its name, then the workspace. */
const refreshes: Record<string, readonly string[]> = {
  workspace: ['workspace', 'lineUp'],
  channels: ['channels', 'lineUp', 'needs', 'runway'],
  categories: ['categories', 'lineUp', 'results', 'runway'],
  rota: ['rota', 'lineUp', 'runway'],
  posts: ['posts', 'post', 'categories', 'lineUp', 'results', 'runway'],
  deliveries: ['lineUp', 'needs', 'posts', 'post', 'delivery', 'results', 'runway'],
  results: ['results', 'delivery'],
  imports: ['imports'],
  changes: ['changes'],
  clock: ['workspace', 'clock', 'lineUp', 'needs', 'results'],
};

/** While much happens at once, views are fetched again at most this often. */
const pause = 700;

/** Fetches again what the server says has changed; says whether the server can be heard. */
export function useNews(workspace: string): { connected: boolean } {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);

  useEffect(() => {
    const old = new Set<string>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const refetch = () => {
      timer = undefined;
      for (const query of old) void client.invalidateQueries({ queryKey: [query, workspace] });
      old.clear();
    };
    const stop = listenToNews((news) => {
      if (news.kind === 'heard') {
        setConnected(news.isOpen);
        if (news.again) void client.invalidateQueries();
        return;
      }
      const [concerned, ...topics] = news.line.split(' ');
      if (concerned !== '*' && concerned !== workspace) return;
      for (const topic of topics) for (const query of refreshes[topic] ?? []) old.add(query);
      timer ??= setTimeout(refetch, pause);
    });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, [client, workspace]);

  return { connected };
}
