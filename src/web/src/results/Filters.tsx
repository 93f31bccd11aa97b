import { ChannelChoice, useChannels } from '../channels/channels';
import { useNetworks } from '../networks/networks';
import { addDays } from '../time/dates';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { DateField } from '../ui/DateField';
import { Popover } from '../ui/Popover';
import { Select } from '../ui/Select';
import { useVocabulary } from '../vocabulary/vocabulary';
import { ages, lifespans, type Question, type useQuestion } from './results';

const spans = [28, 91, 364] as const;

interface Props {
  question: Question;
  today: string;
  set: ReturnType<typeof useQuestion>['set'];
  /** True: nothing but the period matters. */
  onlyPeriod: boolean;
}

/** When, by what, of what: all in the page's address. */
export function Filters({ question, today, set, onlyPeriod }: Props) {
  const measures = useVocabulary().data?.measures ?? [];
  const networks = useNetworks().data ?? [];
  const channels = useChannels().data ?? [];
  const used = networks.filter((n) => channels.some((c) => c.network === n.key));
  return (
    <div className="mb-5 flex flex-wrap items-center gap-x-4 gap-y-2 border-rule border-y py-2 text-sm">
      <fieldset className="flex items-center gap-1.5">
        <legend className="sr-only">Period</legend>
        <DateField
          aria-label="From"
          today={today}
          className="w-40"
          value={question.from}
          onChange={(date) => set({ from: date })}
        />
        <span>to</span>
        <DateField
          aria-label="To"
          today={today}
          className="w-40"
          value={question.to}
          onChange={(date) => set({ to: date })}
        />
        {spans.map((days) => (
          <button
            key={days}
            type="button"
            className="min-h-6 rounded-md px-1 underline decoration-rule-strong underline-offset-4 hover:bg-wash"
            onClick={() => set({ from: addDays(today, 1 - days), to: today })}
          >
            {days === 364 ? 'a year' : `${days} days`}
          </button>
        ))}
      </fieldset>
      {!onlyPeriod && (
        <>
          <div className="w-52">
            <Select
              aria-label="By what"
              value={question.measure}
              options={measures.map((m) => ({ value: m.key, label: m.words }))}
              onChange={(measure) => set({ measure: measure === 'engagements' ? null : measure })}
            />
          </div>
          <div className="flex items-center gap-1.5">
            <span className="text-faded">earned after</span>
            <Choice
              label="Earned after"
              value={question.age}
              options={ages}
              onChange={(age) => set({ age: age === 'week' ? null : age })}
            />
          </div>
          <Popover
            label="Channels"
            trigger={
              <Button>
                {question.channel.length === 0
                  ? 'All channels ▾'
                  : `${question.channel.length} of ${channels.length} channels ▾`}
              </Button>
            }
          >
            <ChannelChoice
              label="Only these channels"
              value={question.channel}
              among={channels.map((c) => c.id)}
              onChange={(ids) => set({ channel: ids }, true)}
            />
          </Popover>
          {used.length > 1 && (
            <div className="w-36">
              <Select
                aria-label="Network"
                value={question.network ?? ''}
                none="All networks"
                options={used.map((n) => ({ value: n.key, label: n.name }))}
                onChange={(network) => set({ network: network || null })}
              />
            </div>
          )}
          <div className="w-44">
            <Select
              aria-label="Lifespan"
              value={question.lifespan ?? ''}
              none="All posts"
              options={lifespans}
              onChange={(lifespan) => set({ lifespan: lifespan || null })}
            />
          </div>
        </>
      )}
    </div>
  );
}
