import { lazy, Suspense, useEffect } from 'react';
import { Navigate, Route, Routes, useParams, useSearchParams } from 'react-router';
import { Frame } from './frame/Frame';
import { SignInAgain, SignInPage } from './sessions/SignIn';
import { type Session, useSession } from './sessions/session';
import { Today } from './today/Today';
import { useNotices } from './ui/Notices';
import { Empty, Failed, Waiting } from './ui/States';
import { WorkspaceProvider } from './workspaces/workspace';

const Calendar = lazy(() => import('./lineup/Calendar').then((m) => ({ default: m.Calendar })));
const Rota = lazy(() => import('./rota/Rota').then((m) => ({ default: m.Rota })));
const Bank = lazy(() => import('./posts/Bank').then((m) => ({ default: m.Bank })));
const PostDesk = lazy(() => import('./posts/PostDesk').then((m) => ({ default: m.PostDesk })));
const MediaPage = lazy(() => import('./library/MediaPage').then((m) => ({ default: m.MediaPage })));
const ImportSheet = lazy(() => import('./imports/ImportSheet').then((m) => ({ default: m.ImportSheet })));
const Results = lazy(() => import('./results/Results').then((m) => ({ default: m.Results })));
const Gallery = lazy(() => import('./gallery/Gallery').then((m) => ({ default: m.Gallery })));
const SetUp = lazy(() => import('./setup/SetUp').then((m) => ({ default: m.SetUp })));

export function App() {
  const session = useSession();
  useNoticeFromAddress();
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
  const first = session.workspaces[0];
  if (!first)
    return (
      <div className="p-8">
        <Empty title="You are in no workspace yet">Ask whoever runs Able Lark to let you into one.</Empty>
      </div>
    );
  return (
    <>
      <SignInAgain />
      <Routes>
        <Route path="/w/:slug" element={<InWorkspace session={session} />}>
          <Route index element={<Navigate to="today" replace />} />
          <Route path="today" element={<Today />} />
          <Route path="calendar" element={<Later view={<Calendar />} />} />
          <Route path="rota" element={<Later view={<Rota />} />} />
          <Route path="bank" element={<Later view={<Bank />} />} />
          <Route path="bank/import" element={<Later view={<ImportSheet />} />} />
          <Route path="media" element={<Later view={<MediaPage />} />} />
          <Route path="posts/:id" element={<Later view={<PostDesk />} />} />
          <Route path="results" element={<Later view={<Results />} />} />
          <Route path="set-up" element={<Later view={<SetUp />} />} />
          <Route path="*" element={<Empty title="There is no such view">Choose one of the sections above.</Empty>} />
        </Route>
        <Route path="/gallery" element={<Later view={<Gallery />} />} />
        <Route path="/" element={<Navigate to={`/w/${first.slug}/today`} replace />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </>
  );
}

function InWorkspace({ session }: { session: Session }) {
  const { slug } = useParams();
  const open = session.workspaces.find((w) => w.slug === slug);
  if (!open) return <Navigate to="/" replace />;
  return (
    <WorkspaceProvider value={open} key={open.id}>
      <Frame session={session} />
    </WorkspaceProvider>
  );
}

const Later = ({ view }: { view: React.ReactNode }) => (
  <Suspense fallback={<Waiting what="the view" />}>{view}</Suspense>
);

const Loading = () => (
  <div className="p-8">
    <Waiting what="your workspaces" />
  </div>
);

/** Shows what the server has to say after a detour, such as to a network's consent page. */
function useNoticeFromAddress() {
  const [search, setSearch] = useSearchParams();
  const { tell } = useNotices();
  const notice = search.get('notice');
  useEffect(() => {
    if (!notice) return;
    tell(notice);
    setSearch(
      (before) => {
        before.delete('notice');
        return before;
      },
      { replace: true },
    );
  }, [notice, setSearch, tell]);
}
