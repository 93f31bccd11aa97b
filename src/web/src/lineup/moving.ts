import type { KeyboardEvent, RefCallback } from 'react';
import { wordsOf } from '../api/client';
import { useCategories } from '../categories/categories';
import { useFileUnder } from '../posts/fileUnder';
import type { DraggedPost } from '../posts/postDrag';
import { useGiveTime } from '../posts/posts';
import { addDays, clock, dayWords } from '../time/dates';
import { draggable, droppable, useDragging } from '../ui/dragging';
import { useNotices } from '../ui/Notices';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { canShift, minutesOf, shiftBetween, usePlanAct, useReschedule } from './acts';
import type { Entry } from './lineup';

/** What is under way: a post at its time, on all its channels, or a post from the bank to its first. */
type Dragged = { kind: 'delivery'; entry: Entry; entries: readonly Entry[] } | DraggedPost;

/** Where it may land: a day, perhaps at a time, perhaps only for one channel, perhaps as one of a category. */
interface Place {
  date: string;
  time?: string;
  channelId?: string;
  categoryId?: string;
  /** Whose day it is, where several workspaces stand on one page. */
  workspace?: string;
}

/** A post dropped on a day without a time of its own gets this one. */
const usualTime = '09:00:00';

/** What sends nothing is moved from its sheet alone. */
export const canMove = (entry: Entry) => canShift(entry) || (entry.postId !== null && entry.may.includes('reschedule'));

/** Listens for cards and posts that are dragged, in every view. */
export function useMovingByHand() {
  const land = useLanding();
  useHand((load) => ['delivery', 'post'].includes(load.kind), land);
}

/** Listens for the cards of one workspace among several on a page. */
export function useMovingOwn(entries: readonly Entry[]) {
  const land = useLanding();
  useHand((load) => load.kind === 'delivery' && entries.includes(load.entry), land);
}

function useHand(takes: (load: Dragged) => boolean, land: ReturnType<typeof useLanding>) {
  useDragging({
    takes: (load) => takes(load as Dragged),
    words: (load) => {
      const dragged = load as Dragged;
      return dragged.kind === 'post' ? dragged.title : `${clock(dragged.entry.time)} ${dragged.entry.title}`;
    },
    land: (load, place, copies) => land(load as Dragged, place as Place, copies),
  });
}

function useLanding() {
  const give = useGiveTime();
  const move = useMoving();
  const today = useWorkspace().data?.today ?? '';
  const { trouble } = useNotices();
  const categories = useCategories();
  const file = useFileUnder();
  const { id } = useWorkspacePath();
  return (dragged: Dragged, place: Place, copies: boolean) => {
    if (place.workspace && place.workspace !== id) {
      trouble('That day is another workspace’s. A post stays in its own.');
      return;
    }
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
    const { entry, entries } = dragged;
    if (place.channelId && place.channelId !== entry.channelId) {
      trouble('A delivery keeps its channel. To send the post elsewhere too, open it and give it a time there.');
      return;
    }
    const category = categories.data?.find((c) => c.id === place.categoryId);
    if (category && category.id !== entry.categoryId && entry.postId && !copies) {
      if (!entry.deliveryId) {
        trouble(
          'This place still draws from its category. Schedule it first, or change the post’s category at the desk.',
        );
        return;
      }
      file(entry.postId, category);
    }
    move(entry, entries, place.date, place.time ?? entry.time, copies);
  };
}

/** Gives a post at a time, on all its channels, another date and time, or sends it once more then. */
export function useMoving() {
  const plan = usePlanAct();
  const reschedule = useReschedule();
  return (entry: Entry, entries: readonly Entry[], date: string, time: string, copies = false) => {
    if (date === entry.date && time === entry.time) return;
    const to = `${dayWords(date)}, ${clock(time)}`;
    const movable = copies ? entries.filter((e) => e.postId) : entries.filter(canShift);
    if (movable.length > 0)
      plan.mutate({
        act: copies ? 'copy' : 'shift',
        entries: movable,
        ...shiftBetween(entry, date, time),
        words: () => `${copies ? 'Copied' : 'Moved'} to ${to}.`,
      });
    else if (entry.may.includes('reschedule')) reschedule.mutate({ entry, date, time, words: `Moved to ${to}.` });
  };
}

/** A day of the four-week strip, or any place that only says a date, and perhaps whose it is. */
export const dropDay = (date: string, workspace?: string) =>
  droppable((workspace ? { date, workspace } : { date }) satisfies Place);

/** An hour of a day. */
export const dropTime = (date: string, time: string) => droppable({ date, time } satisfies Place);

/** A cell of a lane: with a channel it takes only that channel's deliveries, with a category it makes them of that. */
export const dropCell = (date: string, lane: { channelId?: string; categoryId?: string }) =>
  droppable({ date, ...lane } satisfies Place);

/** A card that can be dragged, with all its channels; an empty place that can be dropped on. */
export const cardDrag = (entry: Entry, entries: readonly Entry[]): RefCallback<HTMLElement> => {
  const drag = draggable(entries.some(canMove) ? ({ kind: 'delivery', entry, entries } satisfies Dragged) : undefined);
  const place: Place = { date: entry.date, time: entry.time, channelId: entry.channelId };
  const drop = droppable(entry.kind === 'empty' ? place : undefined);
  return (node) => {
    drag(node);
    drop(node);
  };
};

/**
 * The keyboard's way of dragging a card: Alt with an arrow moves it by a day or by half an hour, with Shift as well it is copied. For the
 * element around the cards.
 * @param siblings - All that goes out with an entry.
 */
export function useMovingByKeys(siblings: (key: string) => readonly Entry[]) {
  const move = useMoving();
  const today = useWorkspace().data?.today ?? '';
  return (event: KeyboardEvent) => {
    if (!event.altKey) return;
    const key = (event.target as Element).closest('[data-entry]')?.getAttribute('data-entry');
    const entries = key ? siblings(key) : [];
    const entry = entries.find((e) => e.key === key);
    if (!entry || !(event.shiftKey ? entry.postId : entries.some(canMove))) return;
    const day = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
    const minutes = { ArrowUp: -30, ArrowDown: 30 }[event.key] ?? 0;
    if (day === 0 && minutes === 0) return;
    event.preventDefault();
    const date = addDays(entry.date, day);
    const time = day !== 0 ? entry.time : shifted(entry.time, minutes);
    if (time && date >= today) move(entry, entries, date, time, event.shiftKey);
  };
}

/** The time some minutes on, within the same day; null beyond it. */
function shifted(time: string, minutes: number): string | null {
  const total = minutesOf(time) + minutes;
  if (total < 0 || total >= 24 * 60) return null;
  return `${String(Math.floor(total / 60)).padStart(2, '0')}:${String(total % 60).padStart(2, '0')}:00`;
}
