import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { listenToNews, type News } from './newsLine';

/** A stand-in for the browser's event stream: tests say what comes in. */
class Stream extends EventTarget {
  static open: Stream[] = [];
  onerror: (() => void) | null = null;
  constructor(readonly url: string) {
    super();
    Stream.open.push(this);
  }
  say(type: string, data = '') {
    this.dispatchEvent(new MessageEvent(type, { data }));
  }
  close() {
    Stream.open = Stream.open.filter((s) => s !== this);
  }
}

/** The browser's lock: one holder, the others wait in order. */
function locks() {
  let last: Promise<void> = Promise.resolve();
  return {
    request: (_: string, { signal }: { signal: AbortSignal }, hold: () => Promise<void>) => {
      last = last.then(() => (signal.aborted ? undefined : hold()));
      return last;
    },
  };
}

const scheduled = () => new Promise((done) => setTimeout(done, 20));
let page: EventTarget;

beforeEach(() => {
  Stream.open = [];
  page = new EventTarget();
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('navigator', { locks: locks() });
  vi.stubGlobal('addEventListener', page.addEventListener.bind(page));
  vi.stubGlobal('removeEventListener', page.removeEventListener.bind(page));
});
afterEach(() => vi.unstubAllGlobals());

test('two tabs hold one connection between them and both hear the news', async () => {
  const heard: News[][] = [[], []];
  const stops = heard.map((list) => listenToNews((news) => list.push(news)));
  await scheduled();
  expect(Stream.open).toHaveLength(1);
  Stream.open[0]?.say('fetch', 'w1 posts');
  await scheduled();
  for (const list of heard) expect(list).toContainEqual({ kind: 'news', line: 'w1 posts' });
  for (const stop of stops) stop();
});

test('when the tab that holds it closes, the other takes over', async () => {
  const first = listenToNews(() => {});
  const second = listenToNews(() => {});
  await scheduled();
  const held = Stream.open[0];
  first();
  await scheduled();
  expect(Stream.open).toHaveLength(1);
  expect(Stream.open[0]).not.toBe(held);
  second();
  await scheduled();
  expect(Stream.open).toHaveLength(0);
});

test('a page put aside for the back button gives the connection up', async () => {
  const stop = listenToNews(() => {});
  await scheduled();
  page.dispatchEvent(new Event('pagehide'));
  await scheduled();
  expect(Stream.open).toHaveLength(0);
  stop();
});

test('a line asks first for what was new since the page began to fetch', async () => {
  vi.stubGlobal('performance', { now: () => 2_400 });
  const stop = listenToNews(() => {});
  await scheduled();
  expect(Stream.open[0]?.url).toBe('/api/news?back=4');
  stop();
});

test('a line that was lost and is back asks for everything anew', async () => {
  const heard: News[] = [];
  const stop = listenToNews((news) => heard.push(news));
  await scheduled();
  Stream.open[0]?.say('hello');
  Stream.open[0]?.onerror?.();
  Stream.open[0]?.say('hello');
  expect(heard).toEqual([
    { kind: 'heard', isOpen: true, again: false },
    { kind: 'heard', isOpen: false, again: false },
    { kind: 'heard', isOpen: true, again: true },
  ]);
  stop();
});
