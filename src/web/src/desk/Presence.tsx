import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';

const every = 10_000;
/** What is written comes first. */
const firstAfter = 800;
/** A pause between two words is writing still. */
const pause = 5_000;

/** Who else has this post open. The page says again and again that it is here, while it is looked at. */
function usePresence(postId: string | null, isWriting: boolean) {
  const { id } = useWorkspacePath();
  const address = `/api/workspaces/${id}/posts/${postId}/presence`;
  const isAtIt = useLingering(isWriting);
  const writing = useRef(isAtIt);
  writing.current = isAtIt;
  const [isHere, setHere] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setHere(true), firstAfter);
    return () => clearTimeout(timer);
  }, []);
  const query = useQuery({
    queryKey: ['presence', id, postId],
    enabled: postId !== null && isHere,
    refetchInterval: every,
    retry: false,
    // In its own quiet way: who else is here is no reason to say that the server is away or a session has run out.
    queryFn: async (): Promise<Schemas['PresentPerson'][]> => {
      const body = JSON.stringify({ isWriting: writing.current });
      const answer = await fetch(address, { method: 'POST', headers: { 'content-type': 'application/json' }, body });
      return answer.ok ? await answer.json() : [];
    },
  });
  const { refetch } = query;
  const isKnown = query.data !== undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: said at once when writing begins or ends
  useEffect(() => {
    if (isKnown) void refetch();
  }, [isAtIt]);
  useEffect(() => {
    if (postId === null) return;
    // Also from a page that is being closed.
    const go = () => void fetch(address, { method: 'DELETE', keepalive: true }).catch(() => {});
    addEventListener('pagehide', go);
    return () => {
      removeEventListener('pagehide', go);
      go();
    };
  }, [postId, address]);
  return query.data ?? [];
}

/** True as soon as something is, false only when it hasn't been for a while. */
function useLingering(is: boolean): boolean {
  const [lingers, setLingers] = useState(is);
  useEffect(() => {
    if (is) return setLingers(true);
    const timer = setTimeout(() => setLingers(false), pause);
    return () => clearTimeout(timer);
  }, [is]);
  return lingers;
}

export function Presence({ postId, isWriting }: { postId: string | null; isWriting: boolean }) {
  const others = usePresence(postId, isWriting);
  if (others.length === 0) return null;
  return (
    <p role="status" className="border-tide border-l-4 bg-wash px-2.5 py-0.5 text-sm" data-presence>
      {others.map((o) => `${o.name} ${o.isWriting ? 'is writing here' : 'has this open'}`).join(' · ')}
    </p>
  );
}
