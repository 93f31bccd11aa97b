import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../api/client';
import { refresh } from '../../api/queries';
import { useTellUndoable } from '../../changes/undo';
import { tieOf } from '../../keydates/keyDates';
import type { Post, PostEdit } from '../../posts/posts';
import { clock, dayWords } from '../../time/dates';
import { useWorkspacePath } from '../../workspaces/workspace';
import { channelCount } from '../networks/reach';
import type { When } from './when';

interface Chosen {
  when: When;
  /** To these of its channels; null: to all of them. */
  only: string[] | null;
  /** Places that booking was said to give; null: none were shown. */
  shown: Schemas['BookingView'] | null;
}

/** What was done, in words. */
export interface Done {
  words: string;
  post: Post;
}

/** Does what the bar says: saves the post in the stage that this takes, then gives it its times or places. */
export function useAct(saveWith: (part: Partial<PostEdit>) => Promise<Post>) {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: async ({ when, only, shown }: Chosen): Promise<Done> => {
      if (when.kind === 'draft') return { words: 'Kept as a draft.', post: await saveWith({ stage: 'draft' }) };
      const post = await saveWith({ stage: 'ready', ...(when.kind === 'rotation' && { inRotation: true }) });
      const waits = post.stage === 'waitingForApproval';
      const asked = waits ? 'Asked for approval. ' : '';
      const at = { ...path, id: post.id };
      switch (when.kind) {
        case 'rotation':
          return { words: waits ? 'Asked for approval.' : 'It is in rotation.', post };
        case 'time':
        case 'now': {
          const given = await ask(
            api.POST('/api/workspaces/{workspaceId}/posts/{id}/deliveries', {
              params: { path: at },
              body:
                when.kind === 'now'
                  ? { date: null, time: null, channels: only }
                  : { date: when.date, time: `${when.time}:00`, channels: only, ...tieOf(when.keyDate) },
            }),
          );
          const words = `${asked}${plannedWords(given, when.kind === 'now')}`;
          tellUndoable(words, given.changeSetId);
          return { words, post };
        }
        default: {
          // A post that was never saved had nothing to be shown.
          const plan =
            shown ??
            (await ask(
              api.GET('/api/workspaces/{workspaceId}/posts/{id}/booking', {
                params: { path: at, query: { kind: when.kind } },
              }),
            ));
          const { changeSetId } = await ask(
            api.POST('/api/workspaces/{workspaceId}/posts/{id}/booking', {
              params: { path: at },
              body: {
                kind: when.kind,
                planStamp: plan.planStamp,
                shown: plan.moves.map(({ postId, channelId, to }) => ({ postId, channelId, to })),
              },
            }),
          );
          const words = `${asked}Booked: ${placesWords(post.id, plan)}.`;
          tellUndoable(words, changeSetId);
          return { words, post };
        }
      }
    },
    onSettled: () => refresh(client, workspace, ['deliveries', 'rota', 'posts']),
  });
}

function plannedWords({ planned, leftOut }: Schemas['PlanResult'], isNow: boolean): string {
  const first = planned[0];
  const where = channelCount(planned.length);
  const left = leftOut.length > 0 ? ` Left out: ${leftOut.join(' ')}` : '';
  return isNow || !first
    ? `It is on its way to ${where}.${left}`
    : `Scheduled for ${dayWords(first.date)}, ${clock(first.time)} on ${where}.${left}`;
}

/** The places that booking gives a post itself. */
export function ownPlaces(postId: string, plan: Schemas['BookingView']) {
  const own = plan.moves
    .filter((m) => m.postId === postId && m.to)
    .sort((a, b) => ((a.to ?? '') < (b.to ?? '') ? -1 : 1));
  return { channels: own.length, first: atWords(own[0]?.to ?? '') };
}

const placesWords = (postId: string, plan: Schemas['BookingView']) => {
  const { channels, first } = ownPlaces(postId, plan);
  return `${first} on ${channelCount(channels)}`;
};

/** "Thu 3 Dec, 17:00", of a local date and time as the server writes it. */
export function atWords(at: string): string {
  const [date = '', time = ''] = at.split('T');
  return date && `${dayWords(date)}, ${clock(time)}`;
}
