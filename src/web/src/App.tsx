import { type ComponentType, lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Navigate, Route, Routes, useParams, useSearchParams } from 'react-router';
import { api, ask, wordsOf } from './api/client';
import { Frame } from './frame/Frame';
import { NetworksProvider } from './networks/networks';
import { NoLongerMine, useSessionAfterNotFound } from './sessions/NoLongerMine';
import { SignInAgain, SignInPage } from './sessions/SignIn';
import { type Session, useSession } from './sessions/session';
import { Today } from './today/Today';
import { useNotices } from './ui/Notices';
import { Empty, Failed, Waiting } from './ui/States';
import { WorkspaceProvider } from './workspaces/workspace';

/** A section whose script is fetched when it is first looked at, or ahead. Once it is there, the section opens at once. */
function section(load: () => Promise<ComponentType>) {
  let loaded: ComponentType | null = null;
  const fetchIt = () =>
    load().then((found) => {
      loaded = found;
      return { default: found };
    });
  const Later = lazy(fetchIt);
  function Section() {
    // Chosen once: what has been opened is not opened anew when its script comes twice.
    const [Shown] = useState<ComponentType>(() => loaded ?? Later);
    return (
      <Suspense fallback={<Waiting what="the view" />}>
        <Shown />
      </Suspense>
    );
  }
  return { Section, fetchIt };
}

const calendar = section(() => import('./calendar/Calendar').then((m) => m.Calendar));
const rota = section(() => import('./rota/Rota').then((m) => m.Rota));
const bank = section(() => import('./posts/Bank').then((m) => m.Bank));
const desk = section(() => import('./desk/Desk').then((m) => m.PostDesk));
const media = section(() => import('./library/MediaPage').then((m) => m.MediaPage));
const results = section(() => import('./results/Results').then((m) => m.Results));
const importing = section(() => import('./imports/ImportStart').then((m) => m.ImportStart));
const anImport = section(() => import('./imports/ImportPage').then((m) => m.ImportPage));
const overview = section(() => import('./overview/Overview').then((m) => m.Overview));
const gallery = section(() => import('./gallery/Gallery').then((m) => m.Gallery));
const setUp = section(() => import('./setup/SetUp').then((m) => m.SetUp));

/** The section that an address opens: its script is fetched at once, while it is still asked who is signed in. */
const openedFirst: readonly [RegExp, { fetchIt: () => Promise<unknown> }][] = [
  [/\/calendar$/, calendar],
  [/\/posts\/[^/]+$/, desk],
  [/\/rota$/, rota],
  [/\/bank$/, bank],
];
void openedFirst
  .find(([path]) => path.test(location.pathname))?.[1]
  .fetchIt()
  .catch(() => {});

/** Fetches the sections’ scripts one after the other while nothing else is to be done. */
function useSectionsAhead() {
  useEffect(() => {
    const ahead = [calendar, rota, bank, desk, media, results, setUp];
    const next = () => {
      // Offline is no trouble yet: it is fetched again when it is looked at.
      void ahead
        .shift()
        ?.fetchIt()
        .then(
          () => requestIdleCallback(next),
          () => {},
        );
    };
    const wait = setTimeout(() => requestIdleCallback(next), 1500);
    return () => clearTimeout(wait);
  }, []);
}

export function App() {
  const session = useSession();
  useOutcomeFromAddress();
  if (session.isPending) return <Loading />;
  if (session.data === undefined)
    return (
      <div className="p-8">
        <Failed error={session.error} retry={() => void session.refetch()} />
      </div>
    );
  if (session.data === null) return <SignInPage />;
  return <SignedIn session={session.data} />;
}

function SignedIn({ session }: { session: Session }) {
  useSectionsAhead();
  // Who was taken out of their last workspace keeps it in sight until they leave it.
  const last = useRef(session.workspaces[0]);
  if (session.workspaces[0]) last.current = session.workspaces[0];
  const first = last.current;
  if (!first)
    return (
      <div className="p-8">
        <Empty title="You are in no workspace yet">Ask whoever runs Able Lark to let you into one.</Empty>
      </div>
    );
  return (
    <NetworksProvider>
      <SignInAgain />
      <Routes>
        <Route path="/w/:slug" element={<InWorkspace session={session} />}>
          <Route index element={<Navigate to="today" replace />} />
          <Route path="today" element={<Today />} />
          <Route path="calendar" element={<calendar.Section />} />
          <Route path="rota" element={<rota.Section />} />
          <Route path="bank" element={<bank.Section />} />
          <Route path="bank/import" element={<importing.Section />} />
          <Route path="bank/import/:id" element={<anImport.Section />} />
          <Route path="media" element={<media.Section />} />
          <Route path="posts/:id" element={<desk.Section />} />
          <Route path="results" element={<results.Section />} />
          <Route path="set-up" element={<setUp.Section />} />
          <Route path="*" element={<Empty title="There is no such view">Choose one of the sections above.</Empty>} />
        </Route>
        <Route path="/all" element={<overview.Section />} />
        <Route path="/gallery" element={<gallery.Section />} />
        <Route path="/" element={<Navigate to={`/w/${first.slug}/today`} replace />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </NetworksProvider>
  );
}

function InWorkspace({ session }: { session: Session }) {
  const { slug } = useParams();
  const mine = session.workspaces.find((w) => w.slug === slug);
  const last = useRef(mine);
  if (mine) last.current = mine;
  // What is open stays in sight when it is somebody else's by now: what was typed can still be read.
  const open = last.current?.slug === slug ? last.current : undefined;
  useSessionAfterNotFound();
  if (!open) return <Navigate to="/" replace />;
  return (
    <WorkspaceProvider value={open} key={open.id}>
      <Frame session={session} />
      {!mine && <NoLongerMine name={open.name} />}
    </WorkspaceProvider>
  );
}

const Loading = () => (
  <div className="p-8">
    <Waiting what="your workspaces" />
  </div>
);

/** Shows what the server has to say after a detour, such as to a network's consent page. */
function useOutcomeFromAddress() {
  const [search, setSearch] = useSearchParams();
  const { tell, trouble } = useNotices();
  const of = search.get('outcome');
  useEffect(() => {
    if (!of) return;
    ask(api.GET('/api/connect/outcome', { params: { query: { of } } })).then(
      ({ words }) => tell(words),
      (error) => trouble(wordsOf(error)),
    );
    setSearch(
      (before) => {
        before.delete('outcome');
        return before;
      },
      { replace: true },
    );
  }, [of, setSearch, tell, trouble]);
}
