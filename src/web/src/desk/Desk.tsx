import { useCallback, useDeferredValue, useRef, useState } from 'react';
import { Link, useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { useCategories } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { type Network, useNetworks } from '../networks/networks';
import { hasContent, type PostContent } from '../posts/content';
import { editOf, type NetworkCheck, type Post, type PostEdit, usePost } from '../posts/posts';
import { readDate } from '../time/dates';
import { Choice } from '../ui/Choice';
import { Empty, Fetched } from '../ui/States';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspacePath } from '../workspaces/workspace';
import { CommonContent } from './content/CommonContent';
import { OwnFields } from './content/OwnFields';
import { Alerts, DeskHead } from './DeskHead';
import { History } from './History';
import { useDesk } from './keep/useDesk';
import { Previews } from './looks/Previews';
import { NotesPart } from './NotesPart';
import { blankEdit } from './networks/category';
import { FitReport, ReachLine } from './networks/ReachLine';
import { useReach } from './networks/reach';
import { Targets } from './networks/Targets';
import { useFit } from './networks/useFit';
import { VariantRow } from './networks/VariantRow';
import { PlanSection } from './when/PlanSection';
import { RotationPart } from './when/RotationPart';
import { WhenBar } from './when/WhenBar';
import { WordingsCompared, WordingTabs } from './when/Wordings';
import type { Given } from './when/when';

/** One post in full: what all channels share, what each network gets, and when it goes out. */
export function PostDesk() {
  const { id = 'new' } = useParams();
  const { to } = useWorkspacePath();
  const { key: visit } = useLocation();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  // A new post keeps its desk when it gets an address of its own; the next new one has another.
  const begun = useRef({ visit, created: null as string | null });
  if (id === 'new' && begun.current.visit !== visit) begun.current = { visit, created: null };
  const isNew = id === 'new' || id === begun.current.created;
  const copied = search.get('copy');
  const post = usePost(id === 'new' ? null : id);
  const original = usePost(id === 'new' ? copied : null);
  const categories = useCategories();
  // What the desk is made of is fetched beside the post, not after it.
  useChannels();
  useNetworks();
  useVocabulary();
  const onCreated = useCallback(
    (newId: string) => {
      begun.current.created = newId;
      navigate(to(`posts/${newId}`), { replace: true });
    },
    [navigate, to],
  );

  if (isNew)
    return (
      <Fetched query={categories} what="the categories">
        {(list) => {
          if (list.length === 0) return <NoCategories />;
          // None that isn't chosen, unless there is but one.
          const category =
            list.find((c) => c.id === search.get('category')) ?? (list.length === 1 ? list[0] : undefined);
          if (id === 'new' && copied && !original.data)
            return (
              <Fetched query={original} what="the post to copy">
                {() => null}
              </Fetched>
            );
          return (
            <Desk
              key={begun.current.visit}
              post={post.data ?? null}
              blank={
                original.data
                  ? copyOf(original.data)
                  : blankEdit(category ?? null, search.get('channels')?.split(',') ?? null)
              }
              name={copied ? `copy of ${copied}` : 'new'}
              first={whenOf(search)}
              onCreated={onCreated}
            />
          );
        }}
      </Fetched>
    );
  return (
    <Fetched query={post} what="the post">
      {(data) => <Desk key={data.id} post={data} blank={editOf(data)} first={null} onCreated={onCreated} />}
    </Fetched>
  );
}

const copyOf = (post: Post): PostEdit => ({ ...editOf(post), title: `${post.title} again`, stage: 'draft' });

/** The time at which a post was begun, where it was begun on a calendar. */
function whenOf(search: URLSearchParams) {
  const date = readDate(search.get('date'));
  const time = search.get('time') ?? '';
  return date ? { date, time: /^\d\d:\d\d$/.test(time) ? time : '09:00', keyDate: search.get('keyDate') ?? '' } : null;
}

function NoCategories() {
  const { to } = useWorkspacePath();
  return (
    <Empty
      title="A post needs a category first"
      act={
        <Link to={to('set-up')} className="link">
          Name the first category in Set-up
        </Link>
      }
    >
      Categories are the handful of kinds of post that serve your plan. The rota draws by them, and the results compare
      them.
    </Empty>
  );
}

interface DeskProps {
  post: Post | null;
  blank: PostEdit;
  /** What a new post is kept under in the browser, until it is saved. */
  name?: string;
  first: Given | null;
  onCreated: (id: string) => void;
}

type View = 'compare' | 'previews';
const views = [
  { value: 'compare', label: 'Compare' },
  { value: 'previews', label: 'As it will look' },
] as const;

function Desk({ post, blank, name, first, onCreated }: DeskProps) {
  const [chosenWording, setWording] = useState(0);
  const [view, setView] = useState<View>('compare');
  const desk = useDesk(post, blank, onCreated, { name, wording: chosenWording });
  const { edit, change, checks } = desk;
  const wording = Math.min(chosenWording, edit.content.wordings.length);
  const networks = useNetworks().data ?? noNetworks;
  const reach = useReach(edit, checks);
  const setContent = useCallback((content: PostContent) => change({ content }), [change]);
  const fit = useFit(edit.content, setContent);
  const [showsHistory, setShowsHistory] = useState(false);
  // Those that it goes to; the others only where it goes to none of them.
  const namesOf = (keys: readonly string[]) => {
    const used = keys.filter((key) => reach.networks.some((n) => n.key === key));
    return (used.length > 0 ? used : keys).map((key) => networks.find((n) => n.key === key)?.name ?? key);
  };
  // Nothing is wrong yet with what hasn't been begun.
  // What lies below the fold is drawn once the rest stands.
  const isLower = useDeferredValue(true, false);
  const wasBegun = useRef(false);
  const begun = hasContent(edit.content) && (wasBegun.current || !desk.isChecking);
  wasBegun.current = begun;
  const shared = checks.filter((c) => c.channelId === null && reach.networks.some((n) => n.key === c.network));

  return (
    <div data-desk className="flex flex-col gap-4 pb-24">
      <DeskHead desk={desk} post={post} onHistory={() => setShowsHistory(true)} />
      <Targets edit={edit} goals={begun ? reach.goals : []} change={change} />
      <ReachLine reach={reach} isBegun={begun} isBusy={fit.isBusy} onFitAll={(keys) => fit.run({ networks: keys })} />
      <Alerts desk={desk} post={post} namesOf={namesOf} />
      {fit.last && <FitReport last={fit.last} networks={networks} onTakeBack={fit.takeBack} onClose={fit.forget} />}
      <div className="grid grid-cols-[minmax(19rem,24rem)_minmax(0,1fr)] gap-9 max-md:grid-cols-1">
        <div className="flex flex-col gap-4">
          <div className="flex min-h-[2.6rem] flex-wrap items-center justify-between gap-x-4 border-ink border-b-[1.5px] pb-1.5">
            <h2>What all share</h2>
            <WordingTabs content={edit.content} wording={wording} onChoose={setWording} onChange={setContent} />
          </div>
          {wording === 0 ? (
            <CommonContent
              content={edit.content}
              change={setContent}
              checks={begun ? shared : noChecks}
              checked={desk.checked}
              networks={reach.networks}
              isNew={post === null}
            />
          ) : (
            <section aria-label={`Wording ${wording + 1}`}>
              <OwnFields
                content={edit.content}
                place={{ wording }}
                networks={reach.networks}
                name={`wording ${wording + 1}`}
                from="the post’s"
                onChange={setContent}
              />
            </section>
          )}
          {isLower && (
            <>
              <RotationPart edit={edit} change={change} />
              <NotesPart edit={edit} change={change} />
            </>
          )}
        </div>
        <div className="flex min-w-0 flex-col gap-6">
          <section aria-label="What each network gets" className="@container">
            <div className="flex items-center justify-between gap-4 border-ink border-b-[1.5px] pb-1.5">
              <h2>What each network gets</h2>
              <Choice label="Show the networks to" value={view} options={views} onChange={setView} />
            </div>
            {view === 'compare' ? (
              <ul className="ruled">
                {reach.networks.map((network) => (
                  <VariantRow
                    key={network.key}
                    network={network}
                    channels={reach.goals.filter((g) => g.channel.network === network.key).map((g) => g.channel)}
                    content={edit.content}
                    wording={wording}
                    checks={checks}
                    checked={desk.checked}
                    isBegun={begun}
                    isFitting={fit.isBusy}
                    onChange={setContent}
                    onFit={fit.run}
                  />
                ))}
              </ul>
            ) : (
              <Previews reach={reach} checks={checks} />
            )}
          </section>
          {isLower && post && (
            <WordingsCompared
              postId={post.id}
              content={edit.content}
              checks={shared}
              wording={wording}
              onChoose={setWording}
            />
          )}
          {isLower && post && <PlanSection post={post} />}
        </div>
      </div>
      <WhenBar edit={edit} post={post} hasContent={begun} reach={reach} saveWith={desk.saveWith} first={first} />
      {post && (
        <History
          postId={post.id}
          content={edit.content}
          open={showsHistory}
          onClose={() => setShowsHistory(false)}
          onRestore={(content) => {
            setContent(content);
            setShowsHistory(false);
          }}
        />
      )}
    </div>
  );
}

const noNetworks: readonly Network[] = [];
const noChecks: readonly NetworkCheck[] = [];
