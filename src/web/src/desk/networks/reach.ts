import { useMemo } from 'react';
import { useCategory } from '../../categories/categories';
import { type Channel, useChannels } from '../../channels/channels';
import { type Network, useNetworks } from '../../networks/networks';
import { checkOf, type NetworkCheck, type PostEdit } from '../../posts/posts';

/** One channel that a post is meant for, and how its content stands there. */
export interface Goal {
  channel: Channel;
  check: NetworkCheck | undefined;
  /** Why it can't take the post; null: it can. */
  why: string | null;
}

export interface Reach {
  goals: readonly Goal[];
  able: readonly Goal[];
  unable: readonly Goal[];
  /** The networks of these channels, in the order in which networks are listed. */
  networks: readonly Network[];
  /** False until channels and checks are there. */
  isKnown: boolean;
}

const noReach: Reach = { goals: [], able: [], unable: [], networks: [], isKnown: false };

/** Where a post goes, and which of these channels can take it now. */
export function useReach(edit: PostEdit, checks: readonly NetworkCheck[]): Reach {
  const channels = useChannels().data;
  const networks = useNetworks().data;
  const usual = useCategory(edit.categoryId)?.usualChannels;
  return useMemo(() => {
    if (!channels || !networks) return noReach;
    const wanted = edit.channels ?? usual ?? [];
    const goals = channels
      .filter((c) => wanted.includes(c.id))
      .map((channel) => {
        const check = checkOf(checks, channel);
        return { channel, check, why: whyNot(channel, check) };
      });
    return {
      goals,
      able: goals.filter((g) => g.why === null),
      unable: goals.filter((g) => g.why !== null),
      networks: networks.filter((n) => goals.some((g) => g.channel.network === n.key)),
      isKnown: checks.length > 0,
    };
  }, [channels, networks, usual, edit.channels, checks]);
}

function whyNot(channel: Channel, check: NetworkCheck | undefined): string | null {
  if (channel.connection === 'disconnected') return 'It is disconnected.';
  return check?.findings.find((f) => f.blocks)?.words ?? null;
}

const numbers = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];

/** "three channels" */
export const channelCount = (n: number) => `${numbers[n] ?? n} ${n === 1 ? 'channel' : 'channels'}`;
