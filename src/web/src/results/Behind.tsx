import { useState } from 'react';
import { Link } from 'react-router';
import { useCategory } from '../categories/categories';
import { ChannelName, useChannel } from '../channels/channels';
import { useDelivery } from '../deliveries/deliveries';
import { mediaAddress } from '../media/media';
import { PostLook } from '../posts/Preview';
import { clock, dayWords, shortDay } from '../time/dates';
import { Button } from '../ui/Button';
import { Select } from '../ui/Select';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspacePath } from '../workspaces/workspace';
import { Curve } from './Curve';
import { EnterFigures } from './EnterFigures';
import { FigureList } from './FigureList';
import { PostActs } from './PostActs';
import {
  type BehindWhat,
  type DeliverySort,
  type MeasuredRow,
  type Question,
  useCurve,
  useForgetFigures,
  useMeasured,
} from './results';
import { measured, times } from './words';

const sorts: readonly { value: DeliverySort; label: string }[] = [
  { value: 'latest', label: 'Latest first' },
  { value: 'best', label: 'Best beside the usual first' },
  { value: 'worst', label: 'Worst beside the usual first' },
  { value: 'most', label: 'Most first' },
];

interface Props {
  question: Question;
  what: BehindWhat | null;
  delivery: string | null;
  onDelivery: (id: string | null) => void;
  onClose: () => void;
}

/** The deliveries behind a figure, beside it; and one of them with all that is known of it. */
export function Behind({ question, what, delivery, onDelivery, onClose }: Props) {
  const name = useCategory(what?.by === 'category' ? what.key : null)?.name;
  return (
    <Sheet open={what !== null} title={name ? `Behind ${name}` : 'Behind this figure'} onClose={onClose}>
      {delivery ? (
        <OneDelivery id={delivery} onBack={() => onDelivery(null)} />
      ) : (
        what && <List question={question} what={what} onChoose={onDelivery} />
      )}
    </Sheet>
  );
}

function List({ question, what, onChoose }: { question: Question; what: BehindWhat; onChoose: (id: string) => void }) {
  const [sort, setSort] = useState<DeliverySort>('latest');
  const [take, setTake] = useState(40);
  const rows = useMeasured(question, what, sort, take);
  return (
    <>
      <div className="mb-2">
        <Select aria-label="Order" value={sort} options={sorts} onChange={(next) => setSort(next as DeliverySort)} />
      </div>
      <Fetched query={rows} what="the deliveries">
        {(data) => (
          <>
            <p className="mb-1 text-faded text-sm">Usual: what such posts earn on that channel at such an hour.</p>
            <ul className="list-none">
              {data.rows.map((row) => (
                <Line key={row.id} row={row} question={question} onChoose={() => onChoose(row.id)} />
              ))}
            </ul>
            {data.total > data.rows.length && (
              <Button className="mt-3" onClick={() => setTake(take + 40)}>
                More of {data.total}
              </Button>
            )}
          </>
        )}
      </Fetched>
    </>
  );
}

/** How it did beside what such a post earns there at such an hour. */
function besideUsual(row: MeasuredRow): string {
  if (row.value === null) return 'no figures, left out';
  if (row.expected === null || row.expected <= 0) return '';
  return row.timesUsual === null ? 'as usual' : `${times(row.timesUsual)} × usual`;
}

function Line({ row, question, onChoose }: { row: MeasuredRow; question: Question; onChoose: () => void }) {
  const { id } = useWorkspacePath();
  const isRate = useVocabulary().data?.measures.find((m) => m.key === question.measure)?.isRate ?? false;
  return (
    <li className="border-rule border-b">
      <button
        type="button"
        className="grid w-full grid-cols-[2.6rem_1fr_auto] items-center gap-3 py-2 text-left hover:bg-wash"
        data-delivery={row.id}
        onClick={onChoose}
      >
        {row.file ? (
          <img
            src={mediaAddress(id, row.file, 160)}
            alt=""
            loading="lazy"
            className="size-10 rounded-sm bg-wash object-cover"
          />
        ) : (
          <span className="size-10 rounded-sm bg-wash" />
        )}
        <span className="min-w-0">
          <span className="block truncate font-semibold">{row.title}</span>
          <span className="flex gap-2 text-faded text-sm">
            <span className="whitespace-nowrap">
              {shortDay(row.date)}, {clock(row.time)}
            </span>
            <ChannelName id={row.channelId} className="min-w-0" />
            {row.madeOutside && <span className="whitespace-nowrap">made outside</span>}
          </span>
        </span>
        <span className="text-right">
          <span className="block font-head font-semibold">{measured(isRate)(row.value)}</span>
          <span className="block max-w-28 text-faded text-xs leading-tight">{besideUsual(row)}</span>
        </span>
      </button>
    </li>
  );
}

function OneDelivery({ id, onBack }: { id: string; onBack: () => void }) {
  const { to } = useWorkspacePath();
  const delivery = useDelivery(id);
  const curve = useCurve(id);
  const forget = useForgetFigures();
  return (
    <Fetched query={delivery} what="the delivery">
      {(data) => (
        <div className="flex flex-col gap-4">
          <button type="button" className="link min-h-6 self-start text-sm" onClick={onBack}>
            ← All of them
          </button>
          <div>
            <h3>{data.title}</h3>
            <p className="flex gap-2 text-faded">
              {dayWords(data.date)}, {clock(data.time)} <ChannelName id={data.channelId} />
            </p>
          </div>
          {curve.data && <Curve curve={curve.data} onForget={(at) => forget.mutate([{ deliveryId: id, at }])} />}
          {data.figures && <FigureList figures={data.figures} at={data.figuresAt} />}
          {data.state === 'sent' && <EnterFigures id={id} known={data.figures} />}
          <div className="flex flex-wrap gap-4">
            {data.address && !data.takenDownAt && (
              <a href={data.address} target="_blank" rel="noreferrer" className="link">
                See it on the network
                {data.figures?.comments ? `, with its ${data.figures.comments} comments` : ''}
              </a>
            )}
            <Link to={to(`posts/${data.postId}`)} className="link">
              Open the post
            </Link>
            <PostActs id={data.postId} title={data.title} />
          </div>
          {data.why && (
            <div>
              <h3>Why this then</h3>
              <p className="mt-1 text-faded">{data.why}</p>
            </div>
          )}
          {data.look && (
            <section>
              <h3 className="mb-2">As it went out</h3>
              <LookOf channelId={data.channelId} fields={data.look.fields} />
            </section>
          )}
        </div>
      )}
    </Fetched>
  );
}

function LookOf({ channelId, fields }: { channelId: string; fields: Parameters<typeof PostLook>[0]['fields'] }) {
  const channel = useChannel(channelId);
  return <PostLook network={channel?.network ?? ''} by={channel?.name} fields={fields} />;
}
