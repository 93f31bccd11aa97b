import { type RefCallback, useEffect, useRef } from 'react';

/** What can be taken up, and what it can be let fall on, by element: nothing is rendered again while something is dragged. */
const loads = new WeakMap<Element, unknown>();
const places = new WeakMap<Element, unknown>();

/** Steps before a press becomes a drag, in pixels. */
const slack = 6;
/** A finger that rests for so long on a thing takes it up; one that moves before that scrolls, in milliseconds. */
const rest = 350;
/** Nearer to the window's edge than this, the page scrolls along. */
const edge = 48;

const kept =
  (map: WeakMap<Element, unknown>, mark: string) =>
  (value: unknown): RefCallback<HTMLElement> =>
  (node) => {
    if (!node) return;
    if (value === undefined) {
      map.delete(node);
      node.removeAttribute(mark);
    } else {
      map.set(node, value);
      if (!node.hasAttribute(mark)) node.setAttribute(mark, '');
    }
  };

/** Lets an element be dragged; `undefined` lets it lie. */
export const draggable = kept(loads, 'data-load');
/** Lets things be dropped on an element. While one is over it, it carries `data-over`. */
export const droppable = kept(places, 'data-place');

interface Hand {
  /** True for what this hand takes up: several may listen on one page. */
  takes: (load: unknown) => boolean;
  /** What is shown under the pointer. */
  words: (load: unknown) => string;
  /** @param copies - True: a modifier key was held as it fell. */
  land: (load: unknown, place: unknown, copies: boolean) => void;
  /** Told whenever what is under the pointer changes; null over nothing, and at the end. */
  hover?: (load: unknown, place: unknown) => void;
}

/** Listens, over the whole page, for dragging with a mouse, a pen, or a finger that rests on a thing first. Escape lets go. */
export function useDragging(hand: Hand) {
  const latest = useRef(hand);
  latest.current = hand;
  useEffect(() => {
    let drag: Drag | null = null;
    let resting: { from: PointerEvent; timer: number } | null = null;
    const stir = () => {
      if (resting) clearTimeout(resting.timer);
      resting = null;
    };
    const down = (event: PointerEvent) => {
      stir();
      if (event.button !== 0 || !event.isPrimary) return;
      const source = (event.target as Element).closest('[data-load]');
      if (!source || !latest.current.takes(loads.get(source))) return;
      if (event.pointerType !== 'touch') {
        drag = new Drag(source, event, latest.current);
        return;
      }
      const timer = window.setTimeout(() => {
        resting = null;
        drag = new Drag(source, event, latest.current);
        drag.start();
      }, rest);
      resting = { from: event, timer };
    };
    const move = (event: PointerEvent) => {
      if (resting && isFar(resting.from, event)) stir();
      drag?.move(event);
    };
    // The finger's own ways, scrolling and the menu of a long press, stand back while it holds something.
    const hold = (event: Event) => {
      if (drag || resting) event.preventDefault();
    };
    const keep = (event: TouchEvent) => {
      if (drag && event.cancelable) event.preventDefault();
    };
    const end = (isDropped: boolean, copies = false) => {
      stir();
      const ended = drag;
      drag = null;
      const place = ended?.end();
      if (ended && isDropped && place !== undefined) latest.current.land(loads.get(ended.source), place, copies);
    };
    const up = (event: PointerEvent) => end(true, event.ctrlKey || event.metaKey || event.altKey);
    const cancel = () => end(false);
    const key = (event: KeyboardEvent) => event.key === 'Escape' && cancel();
    addEventListener('pointerdown', down);
    addEventListener('pointermove', move);
    addEventListener('pointerup', up);
    addEventListener('pointercancel', cancel);
    addEventListener('keydown', key);
    addEventListener('contextmenu', hold);
    addEventListener('touchmove', keep, { passive: false });
    return () => {
      cancel();
      removeEventListener('pointerdown', down);
      removeEventListener('pointermove', move);
      removeEventListener('pointerup', up);
      removeEventListener('pointercancel', cancel);
      removeEventListener('keydown', key);
      removeEventListener('contextmenu', hold);
      removeEventListener('touchmove', keep);
    };
  }, []);
}

const isFar = (from: PointerEvent, to: PointerEvent) =>
  Math.hypot(to.clientX - from.clientX, to.clientY - from.clientY) >= slack;

/** One drag, from the press to the drop. */
class Drag {
  private label: HTMLElement | null = null;
  private over: Element | null = null;

  constructor(
    readonly source: Element,
    private readonly from: PointerEvent,
    private readonly hand: Hand,
  ) {}

  move(event: PointerEvent) {
    const { clientX: x, clientY: y } = event;
    if (!this.label) {
      if (!isFar(this.from, event)) return;
      this.start();
    }
    if (this.label) this.label.style.transform = `translate(${x + 12}px, ${y + 8}px)`;
    this.enter(document.elementFromPoint(x, y)?.closest('[data-place]') ?? null);
    if (y < edge || y > innerHeight - edge) scrollBy(0, y < edge ? -24 : 24);
    getSelection()?.removeAllRanges();
  }

  /** Puts everything back as it was; returns what the load was dropped on, if anything. */
  end(): unknown {
    if (!this.label) return undefined;
    this.label.remove();
    this.source.removeAttribute('data-taken');
    const place = this.over ? places.get(this.over) : undefined;
    this.enter(null);
    // The click that follows the drop is not a press on what was dragged.
    const swallow = (event: Event) => {
      event.preventDefault();
      event.stopPropagation();
    };
    addEventListener('click', swallow, { capture: true, once: true });
    setTimeout(() => removeEventListener('click', swallow, { capture: true }));
    return place;
  }

  /** Takes it up. */
  start() {
    this.label = document.createElement('div');
    this.label.className =
      'pointer-events-none fixed top-0 left-0 z-50 max-w-56 truncate rounded-sm border border-dawn bg-leaf px-2 py-1 text-sm shadow-lg';
    this.label.textContent = this.hand.words(loads.get(this.source));
    this.label.style.transform = `translate(${this.from.clientX + 12}px, ${this.from.clientY + 8}px)`;
    document.body.append(this.label);
    this.source.setAttribute('data-taken', '');
  }

  private enter(place: Element | null) {
    if (place === this.over) return;
    this.over?.removeAttribute('data-over');
    place?.setAttribute('data-over', '');
    this.over = place;
    this.hand.hover?.(loads.get(this.source), place ? places.get(place) : null);
  }
}
