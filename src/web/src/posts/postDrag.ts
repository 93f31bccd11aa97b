import { draggable } from '../ui/dragging';

/** A post from the bank on its way to its first time. */
export interface DraggedPost {
  kind: 'post';
  postId: string;
  title: string;
}

/** A post in the bank, to be dropped on a day of the four-week strip. */
export const postDrag = (postId: string, title: string, isReady: boolean) =>
  draggable(isReady ? ({ kind: 'post', postId, title } satisfies DraggedPost) : undefined);
