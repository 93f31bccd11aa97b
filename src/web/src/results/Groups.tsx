import { useState } from 'react';
import { Link } from 'react-router';
import { ChannelName } from '../channels/channels';
import { mediaAddress } from '../media/media';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { Empty, Fetched, Renewing } from '../ui/States';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspacePath } from '../workspaces/workspace';
import { Balance, BalanceHead } from './Balance';
import { PostActs } from './PostActs';
import { type BehindWhat, type GroupOrder, type GroupRow, type Question, type ResultsBy, useGroups } from './results';
import { daypartWords, measured, whole } from './words';

const heads: Record<ResultsBy, { title: string; what: string; empty: string }> = {
  channel: {
    title: 'Channel',
    what: 'What going out there makes of a post, all else alike: ×2 means twice the mean of all channels.',
    empty: 'Nothing was sent in this time.',
  },
  daypart: {
    title: 'When',
    what: 'What going out then makes of a post, all else alike, beside the mean of all hours.',
    empty: 'Nothing was sent in this time.',
  },
  post: {
    title: 'Post',
    what: 'What it earned beside what such posts earn on its channels at its hours. One post alone proves little.',
    empty: 'Nothing was sent in this time.',
  },
  wording: {
    title: 'Wording',
    what: 'Of posts that went out in several wordings: what each earned beside what such posts earn there then.',
    empty: 'No post went out in several wordings in this time.',
  },
  hashtag: {
    title: 'Hashtag',
    what: 'What went out with it, beside what such posts earn there then; the bar is a 95 % interval, from five posts on.',
    empty: 'Nothing went out with a hashtag in this time.',
  },
  anyCategory: {
    title: 'Category',
    what: 'A delivery stands under its main category and under each further one, so the sum is more than all. A count: nothing is compared.',
    empty: 'Nothing was sent in this time.',
  },
};

const orders = [
  { value: 'best', label: 'Best first' },
  { value: 'worst', label: 'Worst first' },
] as const;

/** Deliveries put together by channel, hour, post, wording or hashtag, the best or the worst first. */
export function Groups({
  question,
  by,
  onOpen,
}: {
  question: Question;
  by: ResultsBy;
  onOpen: (what: BehindWhat) => void;
}) {
  const [take, setTake] = useState(50);
  const [order, setOrder] = useState<GroupOrder>('best');
  const groups = useGroups(question, by, order, take);
  const isRate = useVocabulary().data?.measures.find((m) => m.key === question.measure)?.isRate ?? false;
  const head = heads[by];
  const single = by === 'post' || by === 'wording';
  const compares = by !== 'anyCategory';
  const value = measured(isRate);
  return (
    <Fetched query={groups} what="the results">
      {(data) =>
        data.rows.length === 0 ? (
          <Empty title={head.empty}>Choose a longer time, or other channels.</Empty>
        ) : (
          <Renewing renewing={groups.isPlaceholderData}>
            <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2">
              <p className="max-w-[80ch] flex-1 text-faded">{head.what}</p>
              {compares && data.total > 2 && (
                <Choice label="Order" value={order} options={orders} onChange={setOrder} />
              )}
            </div>
            <table className="w-full table-fixed text-left">
              <caption className="sr-only">Results by {head.title.toLowerCase()}</caption>
              <thead className="border-ink border-y-[1.5px] text-sm">
                <tr>
                  <th scope="col" className="w-[34%] py-1 pr-4 font-semibold">
                    {head.title}
                  </th>
                  {compares && (
                    <th scope="col" className="w-[27%] py-1 font-semibold">
                      <span className="sr-only">Beside the usual</span>
                      <BalanceHead middleWord="as usual" />
                    </th>
                  )}
                  {[...(single ? [] : ['Posts']), 'Deliveries', isRate ? 'Rate' : 'Total', 'Median'].map((name) => (
                    <th key={name} scope="col" className="py-1 pl-4 text-right font-semibold">
                      {name}
                    </th>
                  ))}
                  {by === 'post' && (
                    <th scope="col" className="w-28 py-1">
                      <span className="sr-only">What to do</span>
                    </th>
                  )}
                </tr>
              </thead>
              <tbody>
                {data.rows.map((row) => (
                  <tr key={row.key} className="border-rule border-b" data-group={row.name}>
                    <th scope="row" className="py-1.5 pr-4 font-normal">
                      <Name row={row} />
                    </th>
                    {compares && (
                      <td>
                        <Balance figures={{ adjusted: figuresOf(row) }} colour="var(--dawn)" />
                      </td>
                    )}
                    {!single && <td className="pl-4 text-right font-head">{whole(row.posts)}</td>}
                    <td className="pl-4 text-right">
                      <button
                        type="button"
                        className="link min-h-6 font-head"
                        aria-label={`${row.deliveries} deliveries: open them`}
                        onClick={() => onOpen({ by, key: row.key })}
                      >
                        {whole(row.deliveries)}
                      </button>
                    </td>
                    <td className="pl-4 text-right font-head">{isRate ? value(row.rate) : whole(row.total)}</td>
                    <td className="pl-4 text-right font-head">{value(row.median)}</td>
                    {by === 'post' && (
                      <td className="text-right">{row.postId && <PostActs id={row.postId} title={row.name} />}</td>
                    )}
                  </tr>
                ))}
              </tbody>
            </table>
            {data.total > data.rows.length && (
              <Button className="mt-3" onClick={() => setTake(take + 100)}>
                More of {data.total}
              </Button>
            )}
          </Renewing>
        )
      }
    </Fetched>
  );
}

const figuresOf = ({ makes, besideUsual }: GroupRow) =>
  makes ?? (besideUsual ? { value: besideUsual.ratio, low: besideUsual.low, high: besideUsual.high } : null);

function Name({ row }: { row: GroupRow }) {
  const { id, to } = useWorkspacePath();
  if (row.channelId) return <ChannelName id={row.channelId} />;
  if (row.daypart) return daypartWords(row.daypart);
  if (row.postId)
    return (
      <span className="flex items-center gap-3">
        {row.file ? (
          <img
            src={mediaAddress(id, row.file, 160)}
            alt=""
            loading="lazy"
            className="size-8 shrink-0 rounded-sm bg-wash object-cover"
          />
        ) : (
          <span className="size-8 shrink-0 rounded-sm bg-wash" />
        )}
        <Link to={to(`posts/${row.postId}`)} className="link min-w-0 truncate">
          {row.name}
        </Link>
      </span>
    );
  return row.name;
}
