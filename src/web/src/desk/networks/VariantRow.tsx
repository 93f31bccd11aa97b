import { memo, useState } from 'react';
import type { Channel } from '../../channels/channels';
import { type Network, NetworkMark } from '../../networks/networks';
import { type FieldValues, isEmpty, type PostContent, saidAt, saying, withValue } from '../../posts/content';
import { Preview } from '../../posts/Preview';
import type { NetworkCheck } from '../../posts/posts';
import { useVocabulary } from '../../vocabulary/vocabulary';
import { marksOf } from '../content/marksOf';
import { OwnFields } from '../content/OwnFields';
import { Findings } from './Findings';
import { Gauge } from './Gauge';
import type { FitWanted } from './useFit';

interface Props {
  network: Network;
  /** The channels of it that the post goes to. */
  channels: readonly Channel[];
  content: PostContent;
  wording: number;
  checks: readonly NetworkCheck[];
  /** The content that they are of. */
  checked: PostContent;
  /** False: nothing has been written yet, and so nothing is lacking. */
  isBegun: boolean;
  isFitting: boolean;
  onChange: (content: PostContent) => void;
  onFit: (wanted: FitWanted) => void;
}

/** What one network gets, on a line: what differs there, how long it is, and what was found. Opened, it is written for. */
export const VariantRow = memo(function VariantRow(props: Props) {
  const { network, channels, content, wording, checks, isBegun, isFitting, onChange, onFit } = props;
  const [isOpen, setOpen] = useState(false);
  const check = checks.find((c) => c.network === network.key && c.channelId === null);
  const place = { wording, network: network.key };
  const own = saidAt(content, place);
  const ownChannels = channels.filter((c) => !isEmpty(saidAt(content, { ...place, channel: c.id })));
  return (
    <li className="py-2" data-network={network.key}>
      <div className="grid grid-cols-[9.5rem_10.5rem_1fr_auto] items-center gap-x-4 @max-[34rem]:grid-cols-2">
        <button
          type="button"
          aria-expanded={isOpen}
          aria-controls={`variant-${network.key}`}
          className="flex min-h-7 items-center gap-2 text-left font-head font-semibold hover:text-dawn"
          onClick={() => setOpen(!isOpen)}
        >
          <span aria-hidden="true" className="w-2.5 text-faded text-sm">
            {isOpen ? '▾' : '▸'}
          </span>
          <NetworkMark network={network.key} size={18} />
          {network.name}
        </button>
        {check ? <Gauge check={check} /> : <span />}
        <OwnMarks
          own={own}
          network={network}
          onBack={(key) => onChange(saying(content, place, withValue(own, key, undefined)))}
        />
        {check && isBegun && <Verdict check={check} />}
      </div>
      {own.text !== undefined && !isOpen && (
        <p className="mt-0.5 line-clamp-2 border-dawn border-l-2 pl-2 text-sm" data-own-text>
          {own.text || <i className="text-faded">No text</i>}
        </p>
      )}
      {check && isBegun && check.findings.length > 0 && (
        <div className="mt-1">
          <Findings
            check={check}
            name={network.name}
            isBusy={isFitting}
            onFix={(only) => onFit({ networks: [network.key], only })}
            onFit={() => onFit({ networks: [network.key] })}
          />
        </div>
      )}
      {ownChannels.map((channel) => {
        const found = checks.find((c) => c.channelId === channel.id);
        return (
          <div key={channel.id} className="mt-1 ml-8 border-dawn border-l-2 pl-3 text-sm" data-own-channel={channel.id}>
            <span className="flex flex-wrap items-center gap-x-4">
              <b>{channel.name}</b> says otherwise: {fieldNames(saidAt(content, { ...place, channel: channel.id }))}
              {found && <Gauge check={found} />}
            </span>
            {found && (
              <Findings
                check={found}
                name={channel.name}
                isBusy={isFitting}
                onFix={(only) => onFit({ networks: [network.key], channel: channel.id, only })}
                onFit={() => onFit({ networks: [network.key], channel: channel.id })}
              />
            )}
          </div>
        );
      })}
      {isOpen && (
        <div
          id={`variant-${network.key}`}
          className="mt-2 grid grid-cols-[minmax(0,1fr)_minmax(0,18.5rem)] gap-6 border-rule border-b pb-4 pl-5 @max-[34rem]:grid-cols-1"
        >
          <Opened {...props} check={check} />
          <div className="min-w-0">{check && <Preview check={check} by={channels[0]?.name} />}</div>
        </div>
      )}
    </li>
  );
});

function Opened({
  network,
  channels,
  content,
  wording,
  checks,
  checked,
  check,
  onChange,
}: Props & { check: NetworkCheck | undefined }) {
  const place = { wording, network: network.key };
  const [forOne, setForOne] = useState<string | null>(null);
  const channel = channels.find((c) => c.id === forOne);
  const own = channel && checks.find((c) => c.channelId === channel.id);
  return (
    <div className="flex min-w-0 flex-col gap-4">
      {check?.byPerson && (
        <p className="text-sm" data-by-person>
          {network.name} takes this from a person: when it is due, it waits for you on Today.
        </p>
      )}
      <OwnFields
        content={content}
        place={place}
        networks={[network]}
        name={network.name}
        from={wording === 0 ? 'the common' : 'the wording’s'}
        marked={check && marksOf(saidAt(checked, place).text ?? '', [check])}
        check={check}
        onChange={onChange}
      />
      {channels.length > 0 && (
        <div className="border-rule border-t pt-2">
          <p className="flex flex-wrap items-center gap-x-3 text-sm">
            <span className="text-faded">For one channel only:</span>
            {channels.map((c) => (
              <button
                key={c.id}
                type="button"
                aria-pressed={c.id === forOne}
                className="link min-h-6 aria-pressed:font-semibold"
                onClick={() => setForOne(c.id === forOne ? null : c.id)}
              >
                {c.name}
              </button>
            ))}
          </p>
          {channel && (
            <div className="mt-2">
              <OwnFields
                content={content}
                place={{ ...place, channel: channel.id }}
                networks={[network]}
                name={channel.name}
                from={`${network.name}’s`}
                marked={own && marksOf(saidAt(checked, { ...place, channel: channel.id }).text ?? '', [own])}
                check={own}
                onChange={onChange}
              />
            </div>
          )}
        </div>
      )}
    </div>
  );
}

/** What is said otherwise there, each to be put back with one press. */
function OwnMarks({
  own,
  network,
  onBack,
}: {
  own: FieldValues;
  network: Network;
  onBack: (key: keyof FieldValues) => void;
}) {
  const fields = useVocabulary().data?.fields ?? [];
  const said = fields.filter((f) => own[f.key as keyof FieldValues] !== undefined);
  if (said.length === 0) return <span className="text-faded text-sm">As in common</span>;
  return (
    <span className="flex flex-wrap items-center gap-1.5 text-sm">
      {said.map((f) => (
        <span key={f.key} className="inline-flex items-center border-dawn border-l-2 bg-dawn-wash pl-1.5">
          {own[f.key as keyof FieldValues] === null ? 'No' : 'Own'} {f.name.toLowerCase()}
          <button
            type="button"
            aria-label={`Back to the common ${f.name.toLowerCase()} on ${network.name}`}
            title="Back to what all share"
            className="min-h-6 min-w-6 hover:text-dawn"
            onClick={() => onBack(f.key as keyof FieldValues)}
          >
            ↩
          </button>
        </span>
      ))}
    </span>
  );
}

function Verdict({ check }: { check: NetworkCheck }) {
  const blocks = check.findings.filter((f) => f.blocks).length;
  const advice = check.findings.length - blocks;
  return (
    <span className="whitespace-nowrap text-right text-sm" data-fits={check.fits}>
      {blocks > 0 ? <b className="text-bad">✕ can’t take it</b> : check.byPerson ? '✓ yours to post' : '✓ takes it'}
      {advice > 0 && <span className="text-faded"> · {advice} advice</span>}
      {check.approved !== null && (
        <span className={check.approved ? 'text-good' : 'text-dawn'} data-approved={check.approved}>
          {' · '}
          {check.approved ? 'approved' : 'waits for approval'}
        </span>
      )}
    </span>
  );
}

function fieldNames(values: FieldValues): string {
  return Object.keys(values).length === 1 ? (Object.keys(values)[0] ?? '') : `${Object.keys(values).length} fields`;
}
