import { useMutation } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import { api, ask, type Schemas, wordsOf } from '../../api/client';
import type { Layers, PostContent } from '../../posts/content';
import { useNotices } from '../../ui/Notices';
import { useWorkspacePath } from '../../workspaces/workspace';

export type Fix = Schemas['Fix'];
export type FixView = Schemas['FixView'];

export const fixWords: Record<Fix, string> = {
  useHandle: 'Use the handle of this network',
  moveLinkToComment: 'Move the link to the first comment',
  takeLinkOut: 'Take the link out of the text',
  dropHashtags: 'Drop the surplus hashtags',
  leaveDocumentOut: 'Leave the document out',
  leaveVideoOut: 'Leave the video out',
  cropToRatio: 'Crop it to fit',
  leavePictureOut: 'Leave the picture out',
  moveHashtagsToComment: 'Move the hashtags to the first comment',
  splitIntoThread: 'Split it into a thread',
  cutAtAWord: 'Cut it at a word',
};

/** The same once it is done. */
export const fixedWords: Record<Fix, string> = {
  useHandle: 'Handle of this network',
  moveLinkToComment: 'Link to the first comment',
  takeLinkOut: 'Link out of the text',
  dropHashtags: 'Hashtags dropped',
  leaveDocumentOut: 'Document left out',
  leaveVideoOut: 'Video left out',
  cropToRatio: 'Cropped',
  leavePictureOut: 'Picture left out',
  moveHashtagsToComment: 'Hashtags to the first comment',
  splitIntoThread: 'Split into a thread',
  cutAtAWord: 'Cut at a word',
};

export interface FitWanted {
  networks: readonly string[];
  channel?: string | undefined;
  only?: Fix | undefined;
}

/** What was done to make the content fit, and the content before. */
export interface FitDone {
  done: readonly FixView[];
  before: PostContent;
  after: PostContent;
  of: FitWanted;
}

interface Fit {
  /** What was done last; null: nothing, or it was taken back. */
  last: FitDone | null;
  run: (wanted: FitWanted) => void;
  takeBack: () => void;
  forget: () => void;
  isBusy: boolean;
}

/** Mends what needs no decision, says what was done, and takes it back. What is typed meanwhile stays. */
export function useFit(content: PostContent, change: (content: PostContent) => void): Fit {
  const { path } = useWorkspacePath();
  const { tell, trouble } = useNotices();
  const [last, setLast] = useState<FitDone | null>(null);
  const latest = useRef(content);
  latest.current = content;
  const fit = useMutation({
    mutationFn: ({ of, before }: { of: FitWanted; before: PostContent }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/posts/fit', {
          params: { path },
          body: {
            content: before,
            networks: [...of.networks],
            ...(of.channel && { channel: of.channel }),
            ...(of.only && { only: of.only }),
          },
        }),
      ),
    onSuccess: ({ content: after, done }, { of, before }) => {
      if (done.length === 0) return tell('Nothing there can be mended without you.');
      const now = latest.current;
      // Only what belongs to these networks is taken over: the rest may have been typed on.
      change(now === before ? after : taking(now, after, of));
      setLast({ done, before, after, of });
    },
    onError: (error) => trouble(wordsOf(error)),
  });
  const { mutate } = fit;
  const run = useCallback((of: FitWanted) => mutate({ of, before: latest.current }), [mutate]);
  return {
    last,
    run,
    takeBack: () => {
      if (last) change(taking(latest.current, last.before, last.of));
      setLast(null);
    },
    forget: () => setLast(null),
    isBusy: fit.isPending,
  };
}

/** The content, with what another says for some networks, or for a channel, in its place. */
export function taking(
  content: PostContent,
  from: PostContent,
  of: Pick<FitWanted, 'networks' | 'channel'>,
): PostContent {
  return {
    ...content,
    ...layersTaking(content, from, of),
    wordings: content.wordings.map((w, i) => layersTaking(w, from.wordings[i] ?? w, of)),
  };
}

function layersTaking(
  layers: Layers,
  from: Layers,
  { networks, channel }: Pick<FitWanted, 'networks' | 'channel'>,
): Layers {
  const swap = <T>(all: Record<string, T>, other: Record<string, T>, keys: readonly string[]): Record<string, T> => {
    const changed = { ...all };
    for (const key of keys) {
      const value = other[key];
      if (value === undefined) delete changed[key];
      else changed[key] = value;
    }
    return changed;
  };
  return channel
    ? { common: layers.common, networks: layers.networks, channels: swap(layers.channels, from.channels, [channel]) }
    : { common: layers.common, networks: swap(layers.networks, from.networks, networks), channels: layers.channels };
}
