import { useState } from 'react';
import { KindMark } from '../keydates/KeyDateMark';
import type { KeyDateKind } from '../keydates/keyDates';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FileButton } from '../ui/FileButton';
import { FormError } from '../ui/FormError';
import { Select } from '../ui/Select';
import { Fetched } from '../ui/States';
import { useWorkspace } from '../workspaces/workspace';
import { type Source, useSourceActs, useSources } from './keyDateSetUp';

/** Calendars that key dates are read from. */
export function CalendarsSection({ kinds }: { kinds: readonly KeyDateKind[] }) {
  const sources = useSources();
  const [kind, setKind] = useState('');
  const [address, setAddress] = useState('');
  const { add, bring } = useSourceActs();
  const kindId = kind || (kinds[0]?.id ?? '');
  return (
    <section aria-labelledby="sources" className="mt-8 max-w-3xl">
      <h2 id="sources" className="border-ink border-b-[1.5px] pb-1">
        Read from other calendars
      </h2>
      <Fetched query={sources} what="the calendars">
        {(list) => (
          <ul className="ruled">
            {list.map((source) => (
              <SourceLine key={source.id} source={source} kind={kinds.find((k) => k.id === source.kindId)} />
            ))}
          </ul>
        )}
      </Fetched>
      {kinds.length === 0 ? (
        <p className="py-3 text-faded">Name a kind of key dates first: what is read becomes key dates of it.</p>
      ) : (
        <form
          className="mt-3 flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            add.mutate({ kindId, address }, { onSuccess: () => setAddress('') });
          }}
        >
          <Field label="As key dates of the kind" className="w-48">
            {(id) => (
              <Select
                id={id}
                value={kindId}
                options={kinds.map((k) => ({ value: k.id, label: k.name, mark: <KindMark kind={k} /> }))}
                onChange={setKind}
              />
            )}
          </Field>
          <Field label="Address of an .ics file" className="min-w-64 flex-1">
            {(id) => (
              <input
                id={id}
                className="field"
                required
                inputMode="url"
                maxLength={2000}
                value={address}
                onChange={(event) => setAddress(event.target.value)}
              />
            )}
          </Field>
          <Button type="submit" variant="primary" disabled={add.isPending}>
            Read it
          </Button>
          <FileButton
            label="Bring a file"
            accept=".ics,text/calendar"
            onFiles={([file]) => file && bring.mutate({ kindId, file })}
          />
          <FormError error={add.error} />
        </form>
      )}
    </section>
  );
}

function SourceLine({ source, kind }: { source: Source; kind: KeyDateKind | undefined }) {
  const zone = useWorkspace().data?.zone ?? 'UTC';
  const { readAgain, remove } = useSourceActs();
  return (
    <li data-source={source.name} className="py-2">
      <div className="flex items-center gap-3">
        <span className="min-w-0 flex-1">
          <b className="flex items-center gap-1.5">
            <KindMark kind={kind} /> {source.name}
          </b>
          <span className="block truncate text-faded text-sm">
            {source.keyDates} key dates, {source.address ? `every hour from ${source.address}` : 'from a file'}
            {source.readAt && `, read ${instantWords(source.readAt, zone)}`}
          </span>
        </span>
        {source.address && (
          <Button
            aria-label={`Read ${source.name} now`}
            disabled={readAgain.isPending}
            onClick={() => readAgain.mutate(source.id)}
          >
            Read it now
          </Button>
        )}
        <Button
          aria-label={`Stop reading ${source.name}`}
          disabled={remove.isPending}
          onClick={() => remove.mutate(source)}
        >
          Stop reading
        </Button>
      </div>
      {source.trouble && (
        <p role="alert" className="mt-1 border-bad border-l-4 bg-bad-wash px-3 py-1">
          {source.name} {source.trouble.replace(/\.$/, '')}. What was read before stays.
        </p>
      )}
      {source.leftOut.length > 0 && (
        <details className="mt-1 text-sm">
          <summary className="cursor-pointer text-faded">
            {source.leftOut.length === 1 ? 'One thing is' : `${source.leftOut.length} things are`} left out
          </summary>
          <ul className="mt-1 list-disc pl-5">
            {source.leftOut.map((why) => (
              <li key={why}>{why}</li>
            ))}
          </ul>
        </details>
      )}
    </li>
  );
}
