import type { ReactNode } from 'react';
import { Button } from '../ui/Button';
import type { ImportCounts, RowChoice, RowFilter, RowsEdit } from './imports';
import { count } from './words';

interface Props {
  counts: ImportCounts;
  filter: RowFilter;
  onShow: (about: RowFilter['about']) => void;
  onEdit: (change: Partial<RowsEdit> & Pick<RowsEdit, 'which'>, done?: (rows: number) => string) => void;
}

const all = (about: NonNullable<RowChoice['about']>): RowChoice => ({ rows: null, status: null, search: null, about });

/** What many rows ask, to be answered for all of them at once or one by one. */
export function OpenQuestions({ counts, filter, onShow, onEdit }: Props) {
  if (counts.joins + counts.doubles + counts.offered === 0) return null;
  return (
    <ul className="my-2 max-w-4xl border-dawn border-l-4" aria-label="What the rows ask">
      {counts.joins > 0 && (
        <Question
          words={`${count(counts.joins, 'group')} of rows ${counts.joins === 1 ? 'looks' : 'look'} like one post for several networks.`}
          shown={filter.about === 'joins'}
          onShow={() => onShow('joins')}
        >
          <Button onClick={() => onEdit({ which: all('joins'), joined: true }, () => 'All are joined.')}>
            Join all
          </Button>
          <Button onClick={() => onEdit({ which: all('joins'), joined: false }, () => 'All are kept apart.')}>
            Keep all apart
          </Button>
        </Question>
      )}
      {counts.doubles > 0 && (
        <Question
          words={`${count(counts.doubles, 'post')} ${counts.doubles === 1 ? 'is' : 'are'} nearly there already.`}
          shown={filter.about === 'doubles'}
          onShow={() => onShow('doubles')}
        >
          <Button onClick={() => onEdit({ which: all('doubles'), ifThere: 'leaveOut' }, () => 'All are left out.')}>
            Leave all out
          </Button>
          <Button onClick={() => onEdit({ which: all('doubles'), ifThere: 'anyway' }, () => 'All come in.')}>
            Import all
          </Button>
        </Question>
      )}
      {counts.offered > 0 && (
        <Question
          words={`${count(counts.offered, 'row')} ${counts.offered === 1 ? 'has' : 'have'} a date but no time; one is offered to each.`}
          shown={filter.about === 'offered'}
          onShow={() => onShow('offered')}
        >
          <Button
            onClick={() => onEdit({ which: all('offered'), takeOffered: true }, (n) => `${count(n, 'time')} taken.`)}
          >
            Take what is offered
          </Button>
        </Question>
      )}
    </ul>
  );
}

function Question({
  words,
  shown,
  onShow,
  children,
}: {
  words: string;
  shown: boolean;
  onShow: () => void;
  children: ReactNode;
}) {
  return (
    <li className="flex flex-wrap items-center gap-2.5 px-4 py-1">
      <span className="mr-1">{words}</span>
      {children}
      {shown ? (
        <span className="text-faded text-sm">shown below</span>
      ) : (
        <Button
          variant="quiet"
          className="underline underline-offset-3"
          aria-label={`Show them: ${words}`}
          onClick={onShow}
        >
          Show them
        </Button>
      )}
    </li>
  );
}
