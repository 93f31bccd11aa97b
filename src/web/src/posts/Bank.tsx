import { Link, useSearchParams } from 'react-router';
import { CategorySelect, edgeOf, Monogram, useCategory } from '../categories/categories';
import { mediaAddress } from '../media/media';
import { useNetworks } from '../networks/networks';
import { instantWords } from '../time/dates';
import { SearchBox } from '../ui/SearchBox';
import { Select } from '../ui/Select';
import { Empty, Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { postDrag } from './postDrag';
import { type PostLine, stageWords, usePosts } from './posts';

const linkButton = 'inline-flex items-center rounded-md border-[1.5px] px-3 py-1 font-medium';

/** The stock that slots draw from. */
export function Bank() {
  const { to } = useWorkspacePath();
  const [search, setSearch] = useSearchParams();
  const filter = {
    category: search.get('category') ?? '',
    stage: search.get('stage') ?? '',
    search: search.get('search') ?? '',
  };
  const posts = usePosts(filter);
  const set = (name: string, value: string) =>
    setSearch(
      (before) => {
        value ? before.set(name, value) : before.delete(name);
        return before;
      },
      { replace: true },
    );
  const filtered = filter.category || filter.stage || filter.search;

  return (
    <>
      <div className="mb-4 flex items-center gap-4">
        <h1>The bank</h1>
        <SearchBox
          label="Search the bank"
          placeholder="Title or text"
          value={filter.search}
          onChange={(value) => set('search', value)}
        />
        <div className="w-44">
          <CategorySelect
            aria-label="Only this category"
            none="All categories"
            value={filter.category}
            onChange={(value) => set('category', value)}
          />
        </div>
        <div className="w-36">
          <Select
            aria-label="Only this stage"
            none="All stages"
            value={filter.stage}
            options={Object.entries(stageWords).map(([value, label]) => ({ value, label }))}
            onChange={(value) => set('stage', value)}
          />
        </div>
        <div className="ml-auto flex gap-2">
          <Link to={to('bank/import')} className={`${linkButton} border-rule-strong bg-leaf hover:border-dawn`}>
            Import a sheet
          </Link>
          <Link
            to={to(`posts/new${filter.category ? `?category=${filter.category}` : ''}`)}
            className={`${linkButton} border-dawn bg-dawn text-on-dawn hover:brightness-110`}
          >
            Write a post
          </Link>
        </div>
      </div>
      <Fetched query={posts} what="the posts">
        {({ total, posts: list }) =>
          list.length === 0 ? (
            <Empty
              title={filtered ? 'No post matches' : 'The bank is empty'}
              act={
                filtered ? undefined : (
                  <Link to={to('posts/new')} className="link">
                    Write the first post
                  </Link>
                )
              }
            >
              {filtered
                ? 'Try other words, or another category or stage.'
                : 'Write posts one by one, or import a sheet of them. The rota draws from here by category.'}
            </Empty>
          ) : (
            <>
              <p className="mb-1 text-faded text-sm">
                {total === list.length
                  ? `${total} ${total === 1 ? 'post' : 'posts'}`
                  : `The first ${list.length} of ${total} posts`}
              </p>
              <ul className="ruled border-ink border-t-[1.5px]">
                {list.map((post) => (
                  <li key={post.id}>
                    <Line post={post} />
                  </li>
                ))}
              </ul>
            </>
          )
        }
      </Fetched>
    </>
  );
}

/** Searches a moment after the last key. */
function Line({ post }: { post: PostLine }) {
  const { id, to } = useWorkspacePath();
  const category = useCategory(post.categoryId);
  const networks = useNetworks();
  const zone = useWorkspace().data?.zone;
  const blocked = Object.entries(post.blocked);
  const day = (instant: string | null) => (instant && zone ? instantWords(instant, zone).split(',')[0] : null);
  return (
    <Link
      to={to(`posts/${post.id}`)}
      ref={postDrag(post.id, post.title, post.stage === 'ready')}
      draggable={false}
      style={edgeOf(category)}
      className="edge-scheduled my-1.5 grid grid-cols-[3.5rem_1fr_14rem] items-center gap-4 rounded-sm py-1.5 pr-3 pl-2.5 hover:bg-wash"
    >
      {post.pictureId ? (
        <img
          src={mediaAddress(id, post.pictureId, 160)}
          alt=""
          loading="lazy"
          className="h-10 w-14 rounded-sm object-cover"
        />
      ) : (
        <span />
      )}
      <span className="min-w-0">
        <span className="flex items-center gap-2">
          <Monogram category={category} />
          <span className="truncate font-medium">{post.title}</span>
          {post.stage !== 'ready' && <span className="text-dawn text-sm">{stageWords[post.stage].toLowerCase()}</span>}
          {!post.inRotation && <span className="text-faded text-sm">out of rotation</span>}
          {post.lifespan === 'once' && <span className="text-faded text-sm">once</span>}
        </span>
        <span className="block truncate text-faded text-sm">{post.excerpt}</span>
        {blocked.map(([network, words]) => (
          <span key={network} className="block truncate text-bad text-sm">
            {networks.data?.find((n) => n.key === network)?.name}: {words}
          </span>
        ))}
      </span>
      <span className="text-right text-faded text-sm">
        {post.timesSent > 0 ? `Sent ${post.timesSent} ×, last ${day(post.lastSent)}` : 'Never sent'}
        {post.nextPlanned && <span className="block text-ink">Next {day(post.nextPlanned)}</span>}
      </span>
    </Link>
  );
}
