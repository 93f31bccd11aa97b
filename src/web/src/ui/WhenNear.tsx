import { type ReactNode, useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';

/** So far beyond the window's edge things are drawn already, so that nobody who scrolls or tabs on sees them come. */
const margin = '500px';

const told = new Map<Element, (isNear: boolean) => void>();
const watch = new IntersectionObserver(
  (seen) => {
    for (const { target, isIntersecting } of seen) told.get(target)?.(isIntersecting);
  },
  { rootMargin: margin },
);

// Paper has no window to scroll: all is drawn before it is printed.
addEventListener('beforeprint', () =>
  flushSync(() => {
    for (const tell of told.values()) tell(true);
  }),
);

interface Props {
  /** How many things stand in it, and how high one of them is until it has been measured, in pixels. */
  count: number;
  height: number;
  /** True where it is likely in the window as the page is drawn: it waits for nothing then. */
  atOnce?: boolean;
  /** Drawn while it is in the window or near; what has the focus stays. */
  children: () => ReactNode;
}

/** Keeps a place free for things, and draws them only where somebody may see them: a page of a thousand stays quick. */
export function WhenNear({ count, height, atOnce = false, children }: Props) {
  // So many are drawn without asking again whether all of them are still near: what grows pushes the rest away.
  const [most, setMost] = useState(atOnce ? Number.POSITIVE_INFINITY : 0);
  const isDrawn = most > 0 && (atOnce || count <= most);
  const place = useRef<HTMLDivElement>(null);
  const each = useRef(height);
  const latest = useRef(count);
  latest.current = count;
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    told.set(element, (isNear) => {
      if (!isNear && element.contains(document.activeElement)) return;
      if (!isNear && element.offsetHeight > 0) each.current = element.offsetHeight / latest.current;
      setMost(isNear ? latest.current * 1.5 : 0);
    });
    return () => {
      told.delete(element);
      watch.unobserve(element);
    };
  }, []);
  const isToAsk = !isDrawn && most > 0;
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    if (isToAsk) watch.unobserve(element);
    watch.observe(element);
  }, [isToAsk]);
  return (
    <div ref={place} className="flex flex-col gap-px" style={isDrawn ? undefined : { height: each.current * count }}>
      {isDrawn && children()}
    </div>
  );
}
