import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { isTopic, refresh, type Topic } from '../api/queries';
import { listenToNews } from './newsLine';

/** While much happens at once, views are fetched again at most this often. */
const pause = 700;

/** Fetches again what the server says has changed; says whether the server can be heard. */
export function useNews(workspace: string): { connected: boolean } {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);

  useEffect(() => {
    const told = new Set<Topic>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const refetch = () => {
      timer = undefined;
      void refresh(client, workspace, told);
      told.clear();
    };
    const stop = listenToNews((news) => {
      if (news.kind === 'heard') {
        setConnected(news.isOpen);
        if (news.again) void client.invalidateQueries();
        return;
      }
      const [concerned, ...topics] = news.line.split(' ');
      if (concerned !== '*' && concerned !== workspace) return;
      for (const topic of topics) if (isTopic(topic)) told.add(topic);
      timer ??= setTimeout(refetch, pause);
    });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, [client, workspace]);

  return { connected };
}
