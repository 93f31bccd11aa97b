/** What a listener is told: a line of news, or whether the server can be heard. */
export type News = { kind: 'news'; line: string } | { kind: 'heard'; isOpen: boolean; again: boolean };

const name = 'able-lark-news';

/**
 * Listens to the server's news. However many tabs are open, one of them holds the connection and tells the others:
 * a browser allows only six connections to a host, and views would wait for each other. Returns how to stop.
 */
export function listenToNews(tell: (news: News) => void): () => void {
  const others = new BroadcastChannel(name);
  others.onmessage = (event: MessageEvent<News>) => tell(event.data);
  const tellAll = (news: News) => {
    tell(news);
    others.postMessage(news);
  };

  let stop = start(tellAll);
  const hide = () => stop();
  const show = (event: PageTransitionEvent) => {
    if (event.persisted) stop = start(tellAll);
  };
  // A page that the browser keeps for the back button must not keep the connection.
  addEventListener('pagehide', hide);
  addEventListener('pageshow', show);
  return () => {
    removeEventListener('pagehide', hide);
    removeEventListener('pageshow', show);
    stop();
    others.close();
  };
}

/** Waits for its turn to hold the connection, then holds it until told to stop. */
function start(tell: (news: News) => void): () => void {
  const ended = new AbortController();
  const hold = () =>
    new Promise<void>((release) => {
      if (ended.signal.aborted) return release();
      const close = connect(tell);
      ended.signal.addEventListener('abort', () => {
        close();
        release();
      });
    });
  // Without locks (a page that isn't served securely) every tab has a connection of its own.
  if (navigator.locks) void navigator.locks.request(name, { signal: ended.signal }, hold).catch(() => {});
  else void hold();
  return () => ended.abort();
}

function connect(tell: (news: News) => void): () => void {
  // What the page fetched before this line is open may be old by now: the server tells first what was new since it began.
  const source = new EventSource(`/api/news?back=${Math.ceil(performance.now() / 1000) + 1}`);
  let wasLost = false;
  source.addEventListener('fetch', (event: MessageEvent<string>) => tell({ kind: 'news', line: event.data }));
  source.addEventListener('hello', () => {
    tell({ kind: 'heard', isOpen: true, again: wasLost });
    wasLost = false;
  });
  source.onerror = () => {
    wasLost = true;
    tell({ kind: 'heard', isOpen: false, again: false });
  };
  return () => source.close();
}
