import { longDay } from '../time/dates';
import { Button } from '../ui/Button';
import type { DateQuestion } from './imports';
import type { DateOrder } from './words';
import { count, orderWords } from './words';

interface Props {
  question: DateQuestion;
  /** Of the column's field. */
  name: string;
  isBusy: boolean;
  onAnswer: (order: DateOrder) => void;
}

const doubtWords = {
  severalFit: 'Every row can be read in more than one way, and nothing else in the sheet decides.',
  noneFits: 'Some rows can only be read in one way, some only in another.',
  weekdaysDisagree: 'The dates speak for one way, the weekdays beside them for another.',
  otherLanguage: 'Months are named in another language.',
} as const;

/** How a column's dates are written: asked where the column doesn't say so itself, told where it does. */
export function DateAsked({ question, name, isBusy, onAnswer }: Props) {
  const { readings, witnesses } = question;
  const answer = question.chosen ?? question.decided;
  const isLanguage = question.kind === 'language';
  if (question.decided !== null && question.chosen === null)
    return (
      <p className="mb-3 text-sm">
        <b>{name}:</b> {orderWords[question.decided].toLowerCase()}
        {readings.some((r) => r.weekdaysDisagree > 0)
          ? ', as the weekdays beside it say.'
          : '; the column itself leaves no other way.'}
      </p>
    );
  return (
    <section
      aria-label={`How the dates of ${name} are written`}
      className={`mb-5 border-l-4 px-4 py-2.5 ${answer ? 'border-rule-strong' : 'border-dawn bg-dawn-wash'}`}
    >
      <h2>
        {name}:{' '}
        {answer
          ? isLanguage
            ? `in ${orderWords[answer]}`
            : orderWords[answer].toLowerCase()
          : isLanguage
            ? 'in which language?'
            : 'which way round?'}
      </h2>
      <p className="mb-2">
        {question.doubt ? doubtWords[question.doubt as keyof typeof doubtWords] : ''} Three rows, and what each way
        would make of them:
      </p>
      <table className="text-left">
        <thead>
          <tr className="text-sm">
            <th scope="col" className="pr-8 font-normal text-faded">
              In the sheet
            </th>
            {readings.map((reading) => (
              <th key={reading.order} scope="col" className="pr-8 font-semibold">
                {orderWords[reading.order]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {witnesses.map((witness) => (
            <tr key={witness.row}>
              <th scope="row" className="pr-8 font-normal">
                <span className="font-mono">{witness.cell}</span>{' '}
                <span className="text-faded text-sm">
                  row {witness.row}
                  {witness.weekday && `, ${witness.weekday}`}
                </span>
              </th>
              {witness.dates.map((date, i) => (
                <td key={readings[i]?.order} className="pr-8">
                  {date ? longDay(String(date)) : <span className="text-bad">no date</span>}
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row">
              <span className="sr-only">Choose</span>
            </th>
            {readings.map((reading, i) => (
              <td key={reading.order} className="pr-8 pt-1.5 align-top">
                <Button
                  variant={answer === reading.order ? 'primary' : 'plain'}
                  aria-pressed={answer === reading.order}
                  aria-label={`${orderWords[reading.order]}: ${name}`}
                  disabled={isBusy}
                  onClick={() => onAnswer(reading.order)}
                >
                  {orderWords[reading.order]}
                </Button>
                <span className="block text-faded text-sm">
                  {reading.impossible > 0 && `${count(reading.impossible, 'row')} would be no date. `}
                  {reading.weekdaysAgree + reading.weekdaysDisagree > 0 &&
                    `${reading.weekdaysAgree} of ${reading.weekdaysAgree + reading.weekdaysDisagree} weekdays agree. `}
                  {i === 0 && reading.inOrder > 1 && !question.chosen && 'So the rows would run on in time.'}
                </span>
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </section>
  );
}
