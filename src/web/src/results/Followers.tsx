import { scaleLinear } from 'd3-scale';
import { ChannelName } from '../channels/channels';
import { daysBetween, longDay } from '../time/dates';
import { type ChannelFollowers, type Question, useFollowers } from './results';
import { whole } from './words';

const width = 240;
const height = 54;
/** A change of less than this share isn't drawn as a steep one. */
const flattest = 1.04;

/** How each channel's followers have grown, each on a scale of its own. */
export function Followers({ question }: { question: Question }) {
  const channels = (useFollowers(question).data ?? []).filter((c) => c.points.length > 1);
  if (channels.length === 0) return null;
  return (
    <section className="mt-8">
      <h2 className="mb-1">Followers</h2>
      <p className="mb-3 max-w-[80ch] text-faded text-sm">
        As they were whenever something went out there; each channel on a scale of its own, from its least to its most.
      </p>
      <ul className="grid list-none grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-8 gap-y-4">
        {channels.map((channel) => (
          <li key={channel.channelId} data-followers={channel.channelId}>
            <Line channel={channel} question={question} />
          </li>
        ))}
      </ul>
      <details className="mt-3 text-sm">
        <summary className="cursor-pointer text-faded">As a table</summary>
        <table className="mt-1 text-left">
          <caption className="sr-only">Followers by channel</caption>
          <thead className="border-ink border-y-[1.5px]">
            <tr>
              {['Channel', 'First', 'Followers then', 'Last', 'Followers then', 'Change'].map((head, i) => (
                <th key={`${head}${i < 3 ? 1 : 2}`} scope="col" className="py-1 pr-6 font-semibold">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {channels.map(({ channelId, points }) => {
              const [first, last] = ends(points);
              return (
                <tr key={channelId} className="border-rule border-b">
                  <th scope="row" className="py-1 pr-6 font-normal">
                    <ChannelName id={channelId} />
                  </th>
                  <td className="pr-6">{longDay(first.date)}</td>
                  <td className="pr-6 font-head">{whole(first.followers)}</td>
                  <td className="pr-6">{longDay(last.date)}</td>
                  <td className="pr-6 font-head">{whole(last.followers)}</td>
                  <td className="font-head">{gain(first.followers, last.followers)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </details>
    </section>
  );
}

type Point = ChannelFollowers['points'][number];

const ends = (points: readonly Point[]) => [points[0], points[points.length - 1]] as [Point, Point];

const gain = (first: number, last: number) => `${last >= first ? '+' : '−'}${whole(Math.abs(last - first))}`;

function Line({ channel: { channelId, points }, question }: { channel: ChannelFollowers; question: Question }) {
  const [first, last] = ends(points);
  const counts = points.map((p) => p.followers);
  const x = scaleLinear([0, Math.max(1, daysBetween(question.from, question.to))], [3, width - 3]);
  const least = Math.min(...counts);
  const y = scaleLinear([least, Math.max(...counts, least * flattest)], [height - 6, 6]);
  const at = (p: Point) => `${x(daysBetween(question.from, p.date))} ${y(p.followers)}`;
  return (
    <figure>
      <figcaption className="flex justify-between gap-3">
        <ChannelName id={channelId} className="min-w-0" />
        <span className="whitespace-nowrap">
          <b className="font-head">{whole(last.followers)}</b>{' '}
          <span className="text-faded text-sm">{gain(first.followers, last.followers)}</span>
        </span>
      </figcaption>
      <svg viewBox={`0 0 ${width} ${height}`} className="mt-0.5 block w-full border-rule border-b" aria-hidden="true">
        <path d={`M${points.map(at).join(' L')}`} className="fill-none stroke-dawn" strokeWidth={2} />
        <circle cx={at(last).split(' ')[0]} cy={at(last).split(' ')[1]} r={3} className="fill-dawn" />
      </svg>
    </figure>
  );
}
