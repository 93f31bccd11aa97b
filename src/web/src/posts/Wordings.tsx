import { useNetworks } from '../networks/networks';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { type FieldKey, type FieldValue, type Layers, noLayers, type PostContent, withValue } from './content';
import { PicturesField } from './PicturesField';
import type { NetworkCheck } from './posts';

const most = 8;

interface Props {
  content: PostContent;
  /** How each network stands to it; only those that the post goes to. */
  checks: readonly NetworkCheck[];
  onChange: (wordings: Layers[]) => void;
}

/** Other wordings of the same post, used in turn when it comes round again. */
export function Wordings({ content, checks, onChange }: Props) {
  const all = content.wordings;
  const set = (index: number, key: FieldKey, value: FieldValue | undefined) =>
    onChange(all.map((w, i) => (i === index ? { ...w, common: withValue(w.common, key, value) } : w)));
  return (
    <section aria-label="Other wordings" className="flex flex-col gap-3 border-rule border-t pt-4">
      <div className="flex items-center justify-between gap-3">
        <p className="text-faded text-sm">
          {all.length === 0
            ? 'When it comes round again it says the same.'
            : 'Each time it comes round on a channel, the wording used longest ago there goes.'}
        </p>
        <Button
          disabled={all.length >= most}
          onClick={() => onChange([...all, { ...noLayers, common: { text: content.common.text ?? '' } }])}
        >
          Add a wording
        </Button>
      </div>
      {all.map((wording, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a wording is known by its place alone
        <div key={i} className="flex flex-col gap-2 border-dawn border-l-2 pl-3" data-wording={i + 2}>
          <Field label={`Wording ${i + 2}`}>
            {(id) => (
              <textarea
                id={id}
                rows={5}
                className="field"
                value={wording.common.text ?? ''}
                onChange={(e) => set(i, 'text', e.target.value)}
              />
            )}
          </Field>
          <PicturesField
            label={wording.common.pictures ? `Pictures of wording ${i + 2}` : 'Pictures as above'}
            value={wording.common.pictures ?? []}
            onChange={(pictures) => set(i, 'pictures', pictures.length > 0 ? pictures : undefined)}
          />
          <Blocks checks={checks} index={i} />
          <Button
            variant="quiet"
            className="self-start"
            onClick={() => onChange(all.filter((_, other) => other !== i))}
          >
            Remove wording {i + 2}
          </Button>
        </div>
      ))}
    </section>
  );
}

function Blocks({ checks, index }: { checks: readonly NetworkCheck[]; index: number }) {
  const networks = useNetworks().data ?? [];
  return checks
    .filter((check) => check.wordingBlocks[index])
    .map((check) => (
      <p key={check.network} className="border-bad border-l-4 bg-bad-wash px-2 py-1 text-sm">
        <b>Passed over on {networks.find((n) => n.key === check.network)?.name}.</b> {check.wordingBlocks[index]}
      </p>
    ));
}
