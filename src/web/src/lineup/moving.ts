import type { KeyboardEvent, RefCallback } from 'react';
import { wordsOf } from '../api/client';
import type { DraggedPost } from '../posts/postDrag';
import { useGiveTime } from '../posts/posts';
import { addDays, clock } from '../time/dates';
import { draggable, droppable, useDragging } from '../ui/dragging';
import { useNotices } from '../ui/Notices';
import { useWorkspace } from '../workspaces/workspace';
import type { Entry, EntryAct } from './lineup';
import { useMoveEntry } from './moveEntry';

/** What is under way: a delivery to another time, or a post from the bank to its first. */
type Dragged = { kind: 'delivery'; entry: Entry } | DraggedPost;

/** Where it may land: a day, perhaps at a time, perhaps only for one channel. */
interface Place {
  date: string;
  time?: string;
  channelId?: string;
}

/** A post dropped on a day without a time of its own gets this one. */
const usualTime = '09:00:00';

/** Acts by which an entry gets another date and time. */
const moves: readonly EntryAct[] = ['move', 'reschedule', 'moveThisOne'];

/** What sends nothing is moved from its sheet alone. */
export const canMove = (entry: Entry) => entry.postId !== null && entry.may.some((act) => moves.includes(act));

/** Listens for cards and posts that are dragged, in every view. */
export function useMovingByHand() {
  const land = useLanding();
  useDragging({
    takes: (load) => ['delivery', 'post'].includes((load as Dragged).kind),
    words: (load) => {
      const dragged = load as Dragged;
      return dragged.kind === 'post' ? dragged.title : `${clock(dragged.entry.time)} ${dragged.entry.title}`;
    },
    land: (load, place) => land(load as Dragged, place as Place),
  });
}

function useLanding() {
  const move = useMoveEntry();
  const give = useGiveTime();
  const today = useWorkspace().data?.today ?? '';
  const { trouble } = useNotices();
  return (dragged: Dragged, place: Place) => {
    if (place.date < today) {
      trouble('That day has passed. Drop it on a day to come.');
      return;
    }
    if (dragged.kind === 'post') {
      give.mutate(
        {
          postId: dragged.postId,
          date: place.date,
          time: place.time ?? usualTime,
          channels: place.channelId ? [place.channelId] : [],
        },
        { onError: (error) => trouble(wordsOf(error)) },
      );
      return;
    }
    const { entry } = dragged;
    const time = place.time ?? entry.time;
    if (place.channelId && place.channelId !== entry.channelId) {
      trouble('A delivery keeps its channel. To send the post elsewhere too, open it and give it a time there.');
      return;
    }
    if (place.date !== entry.date || time !== entry.time) move.mutate({ entry, date: place.date, time });
  };
}

/** A day of the four-week strip, or any place that only says a date. */
export const dropDay = (date: string) => droppable({ date } satisfies Place);

/** A cell of a lane; with a channel it takes only that channel's deliveries. */
export const dropCell = (date: string, channelId: string | undefined) =>
  droppable((channelId ? { date, channelId } : { date }) satisfies Place);

/** A card that can be dragged; an empty place that can be dropped on. */
export const cardDrag = (entry: Entry): RefCallback<HTMLElement> => {
  const drag = draggable(canMove(entry) ? ({ kind: 'delivery', entry } satisfies Dragged) : undefined);
  const place: Place = { date: entry.date, time: entry.time, channelId: entry.channelId };
  const drop = droppable(entry.kind === 'empty' ? place : undefined);
  return (node) => {
    drag(node);
    drop(node);
  };
};

/** The keyboard's way of dragging a card: Alt with an arrow moves it by a day or by half an hour. For the element around the cards. */
export function useMovingByKeys(entries: readonly Entry[]) {
  const move = useMoveEntry();
  const today = useWorkspace().data?.today ?? '';
  return (event: KeyboardEvent) => {
    if (!event.altKey) return;
    const key = (event.target as Element).closest('[data-entry]')?.getAttribute('data-entry');
    const entry = entries.find((e) => e.key === key);
    if (!entry || !canMove(entry)) return;
    const day = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
    const minutes = { ArrowUp: -30, ArrowDown: 30 }[event.key] ?? 0;
    if (day === 0 && minutes === 0) return;
    event.preventDefault();
    const date = addDays(entry.date, day);
    const time = day !== 0 ? entry.time : shifted(entry.time, minutes);
    if (time && date >= today) move.mutate({ entry, date, time });
  };
}

/** The time some minutes on, within the same day; null beyond it. */
function shifted(time: string, minutes: number): string | null {
  const [hour = 0, minute = 0] = time.split(':').map(Number);
  const total = hour * 60 + minute + minutes;
  if (total < 0 || total >= 24 * 60) return null;
  return `${String(Math.floor(total / 60)).padStart(2, '0')}:${String(total % 60).padStart(2, '0')}:00`;
}
