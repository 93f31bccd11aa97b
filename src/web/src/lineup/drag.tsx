import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  type DragStartEvent,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type KeyboardEvent, type ReactNode, useState } from 'react';
import { wordsOf } from '../api/client';
import { useMoveDelivery } from '../deliveries/deliveries';
import { failed } from '../deliveries/states';
import { useGiveTime } from '../posts/posts';
import { addDays, clock } from '../time/dates';
import { useNotices } from '../ui/Notices';
import { useWorkspace } from '../workspaces/workspace';
import type { Entry } from './lineup';

/** What is under way: a delivery to another time, or a post from the bank to its first. */
type Dragged = { kind: 'delivery'; entry: Entry } | { kind: 'post'; postId: string; title: string };

/** Where it may land: a day, perhaps at a time, perhaps only for one channel. */
interface Place {
  date: string;
  time?: string;
  channelId?: string;
}

/** A post dropped on a day without a time of its own gets this one. */
const usualTime = '09:00:00';

/** True for what a person may move: what is planned, and failures that wait. */
export const canMove = (entry: Entry) =>
  entry.deliveryId !== null &&
  (entry.state === 'planned' || (failed(entry.state) && entry.state !== 'unsure' && !entry.dealtWith));

export function DragArea({ children }: { children: ReactNode }) {
  const [dragged, setDragged] = useState<Dragged | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const land = useLanding();
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={(event: DragStartEvent) => setDragged(event.active.data.current as Dragged)}
      onDragCancel={() => setDragged(null)}
      onDragEnd={(event: DragEndEvent) => {
        setDragged(null);
        const place = event.over?.data.current as Place | undefined;
        if (place) land(event.active.data.current as Dragged, place);
      }}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <span className="inline-block max-w-56 truncate rounded-sm border border-dawn bg-leaf px-2 py-1 text-sm shadow-lg">
            {dragged.kind === 'post' ? dragged.title : `${clock(dragged.entry.time)} ${dragged.entry.title}`}
          </span>
        )}
      </DragOverlay>
    </DndContext>
  );
}

function useLanding() {
  const move = useMoveDelivery();
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

/** A day of the skyline, or any place that only says a date. */
export function useDropDay(date: string) {
  const { setNodeRef, isOver } = useDroppable({ id: `day:${date}`, data: { date } satisfies Place });
  return { ref: setNodeRef, isOver };
}

/** A cell of a lane; with a channel it takes only that channel's deliveries. */
export function useDropCell(date: string, channelId: string | undefined) {
  const data: Place = channelId ? { date, channelId } : { date };
  const { setNodeRef, isOver } = useDroppable({ id: `cell:${date}:${channelId ?? 'any'}`, data });
  return { ref: setNodeRef, isOver };
}

/** A card that can be dragged; an empty place that can be dropped on. */
export function useCardDrag(entry: Entry) {
  const drag = useDraggable({
    id: `entry:${entry.key}`,
    data: { kind: 'delivery', entry } satisfies Dragged,
    disabled: !canMove(entry),
  });
  const drop = useDroppable({
    id: `place:${entry.key}`,
    disabled: entry.kind !== 'empty',
    data: { date: entry.date, time: entry.time, channelId: entry.channelId } satisfies Place,
  });
  return {
    ref: (node: HTMLElement | null) => {
      drag.setNodeRef(node);
      drop.setNodeRef(node);
    },
    listeners: drag.listeners,
    isDragging: drag.isDragging,
    isOver: drop.isOver,
  };
}

/** A post in the bank, to be dropped on a day of the skyline. */
export function usePostDrag(postId: string, title: string, isReady: boolean) {
  const { setNodeRef, listeners } = useDraggable({
    id: `post:${postId}`,
    data: { kind: 'post', postId, title } satisfies Dragged,
    disabled: !isReady,
  });
  return { ref: setNodeRef, listeners };
}

/** The keyboard's way of dragging a card: Alt with an arrow moves it by a day or by half an hour. */
export function useCardKeys(entry: Entry) {
  const move = useMoveDelivery();
  const today = useWorkspace().data?.today ?? '';
  return (event: KeyboardEvent) => {
    if (!event.altKey || !canMove(entry)) return;
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
