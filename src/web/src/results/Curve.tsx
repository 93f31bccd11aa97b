import { scalePow } from 'd3-scale';
import type { Schemas } from '../api/client';
import { whole } from './words';

const width = 360;
const height = 130;
const foot = 20;

const doubts: Record<NonNullable<Schemas['FigureDoubt']>, string> = {
  fell: 'fell',
  absurd: 'absurd',
  tooEarly: 'before its sending',
};

/** What a delivery earned as time went by; behind it, dotted, what is usual on its channel. Early hours are given room. */
export function Curve({ curve, onForget }: { curve: Schemas['DeliveryCurve']; onForget: (at: string) => void }) {
  const points = curve.points.filter((p) => p.value !== null && p.doubt === null) as { hours: number; value: number }[];
  const doubtful = curve.points.filter((p) => p.value !== null && p.doubt !== null) as {
    hours: number;
    value: number;
  }[];
  if (points.length === 0) return null;
  const hours = Math.max(...points.map((p) => p.hours), ...curve.usual.map((u) => u.hours));
  const most = Math.max(1, ...points.map((p) => p.value), ...curve.usual.map((u) => u.median));
  const x = scalePow()
    .exponent(0.4)
    .domain([0, hours])
    .range([4, width - 46]);
  const y = scalePow()
    .domain([0, most])
    .range([height - foot, 10]);
  const line = (all: readonly { hours: number; value: number }[]) =>
    `M${x(0)} ${y(0)}${all.map((p) => ` L${x(p.hours)} ${y(p.value)}`).join('')}`;
  const usual = curve.usual.map((u) => ({ hours: u.hours, value: u.median }));
  const last = points[points.length - 1] as { hours: number; value: number };
  const lastUsual = usual[usual.length - 1];
  const apart = lastUsual && Math.abs(y(last.value) - y(lastUsual.value)) > 12;
  return (
    <figure>
      <svg viewBox={`0 0 ${width} ${height}`} className="block w-full" aria-hidden="true">
        <line x1={4} x2={width - 46} y1={y(0)} y2={y(0)} className="stroke-rule-strong" />
        {[1, 24, 168, 672]
          .filter((h) => h <= hours)
          .map((h) => (
            <text key={h} x={x(h)} y={height - 5} textAnchor="middle" className="fill-faded text-[11px]">
              {h === 1 ? '1 h' : h === 24 ? '1 day' : `${h / 24} days`}
            </text>
          ))}
        {usual.length > 0 && (
          <path d={line(usual)} className="fill-none stroke-faded" strokeWidth={1.5} strokeDasharray="3 3" />
        )}
        <path d={line(points)} className="fill-none stroke-dawn" strokeWidth={2.5} />
        {points.length <= 12 &&
          points.map((p) => <circle key={p.hours} cx={x(p.hours)} cy={y(p.value)} r={3} className="fill-dawn" />)}
        {doubtful.map((p) => (
          <path
            key={p.hours}
            d={`M${x(p.hours) - 3} ${y(Math.min(p.value, most)) - 3} l6 6 m0 -6 l-6 6`}
            className="stroke-faded"
            strokeWidth={1.5}
          />
        ))}
        <text x={x(last.hours) + 6} y={y(last.value) + 4} className="fill-ink font-head font-semibold text-[13px]">
          {whole(last.value)}
        </text>
        {lastUsual && apart && (
          <text x={x(lastUsual.hours) + 6} y={y(lastUsual.value) + 4} className="fill-faded text-[12px]">
            usual
          </text>
        )}
      </svg>
      <details className="text-sm">
        <summary className="cursor-pointer text-faded">As a table</summary>
        <table className="mt-1 w-full text-right">
          <thead>
            <tr className="border-rule border-b">
              <th scope="col" className="text-left font-semibold">
                After
              </th>
              <th scope="col" className="font-semibold">
                Engagements
              </th>
              <th scope="col" className="font-semibold">
                Usual here
              </th>
            </tr>
          </thead>
          <tbody>
            {curve.points.map((p) => (
              <tr key={p.at}>
                <td className="text-left">{p.hours < 48 ? `${whole(p.hours)} h` : `${whole(p.hours / 24)} days`}</td>
                <td>
                  {p.doubt && <span className="text-faded">{doubts[p.doubt]}, not counted: </span>}
                  {p.byHand && (
                    <span className="text-faded">
                      by hand (
                      <button type="button" className="link min-h-6" onClick={() => onForget(p.at)}>
                        take back
                      </button>
                      ):{' '}
                    </span>
                  )}
                  {whole(p.value)}
                </td>
                <td>{whole(curve.usual.find((u) => Math.abs(u.hours - p.hours) < 2)?.median)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
