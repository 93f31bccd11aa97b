import { CategoryName } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { BalanceHead, CategoryBalance } from './Balance';
import type { ResultsView } from './results';
import { inTen, measured, verdictWords, whole } from './words';

interface Props {
  data: ResultsView;
  onOpen: (category: string) => void;
}

/** Each category on one line: what it takes and brings, as it stands beside compared fairly, and what can be said of it. */
export function CategoryRows({ data, onOpen }: Props) {
  const channels = useChannels().data ?? [];
  const channelName = (id: string) => channels.find((c) => c.id === id)?.name ?? 'a channel';
  return (
    <table className="mb-6 w-full table-fixed text-left">
      <caption className="sr-only">What each category takes, brings, and earns for its share</caption>
      <thead className="border-ink border-y-[1.5px] text-sm">
        <tr>
          <th scope="col" className="w-[23%] py-1 pr-4 font-semibold">
            Category
          </th>
          <th scope="col" className="w-[27%] py-1 font-semibold">
            <span className="sr-only">As it stands, and compared fairly</span>
            <BalanceHead middleWord={data.isRate ? 'as usual' : 'its share'} />
          </th>
          <th scope="col" className="py-1 pl-6 font-semibold">
            What can be said
          </th>
          <th scope="col" className="w-24 py-1 pl-4 text-right font-semibold">
            Deliveries
          </th>
        </tr>
      </thead>
      <tbody>
        {data.categories.map((row) => (
          <tr key={row.categoryId} className="border-rule border-b" data-category={row.categoryId}>
            <th scope="row" className="py-2 pr-4 font-normal">
              <CategoryName id={row.categoryId} />
              <div className="text-faded text-sm">
                {row.deliveries === 0
                  ? 'no figures yet'
                  : data.isRate
                    ? `${measured(true)(row.rate)}, takes ${inTen(row.shareOfDeliveries ?? 0)}`
                    : `takes ${inTen(row.shareOfDeliveries ?? 0)}, brings ${inTen(row.shareOfTotal ?? 0)}`}
              </div>
            </th>
            <td className="py-2">
              <CategoryBalance row={row} />
            </td>
            <td className="py-2 pl-6 leading-snug">{verdictWords(row, data.isRate, channelName)}</td>
            <td className="py-2 pl-4 text-right">
              <button
                type="button"
                className="link min-h-6 font-head"
                aria-label={`${row.deliveries} deliveries: open them`}
                onClick={() => onOpen(row.categoryId)}
              >
                {whole(row.deliveries)}
              </button>
              {row.adjusted && row.compared < row.deliveries && (
                <div className="text-faded text-sm">{row.compared} of them compared</div>
              )}
              {row.leftOut > 0 && <div className="text-faded text-sm">{row.leftOut} left out</div>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
