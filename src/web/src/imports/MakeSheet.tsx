import { type FormEvent, type ReactNode, useState } from 'react';
import { useNavigate } from 'react-router';
import { CategorySelect, useCategories } from '../categories/categories';
import { MediaChooser } from '../media/MediaChooser';
import type { MediaFile } from '../media/media';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Progress } from '../ui/Progress';
import { useWorkspacePath } from '../workspaces/workspace';
import { useMakeImport } from './imports';
import { count } from './words';

const most = 500;

/** A post for each picture. */
export function FromPictures() {
  const [files, setFiles] = useState<readonly MediaFile[]>([]);
  const [choosing, setChoosing] = useState(false);
  return (
    <Making
      title="From pictures"
      words="A post for each, with a title and text by a pattern: {name} is the file’s name, {number} its place, {date} the day it was taken."
      first={{ title: '{name}', text: '{name}' }}
      given={files.length > 0 ? { media: files.map((f) => f.id), links: null } : null}
    >
      <div className="flex items-center gap-3">
        <Button onClick={() => setChoosing(true)}>Choose pictures</Button>
        {files.length > 0 && count(files.length, 'picture')}
      </div>
      {choosing && (
        <MediaChooser
          sort="picture"
          most={most}
          onChosen={(chosen) => {
            setFiles(chosen);
            setChoosing(false);
          }}
          onClose={() => setChoosing(false)}
        />
      )}
    </Making>
  );
}

/** A post for each link. */
export function FromLinks() {
  const [typed, setTyped] = useState('');
  const links = typed.split(/\s+/).filter(Boolean);
  return (
    <Making
      title="From links"
      words="A post for each page, from what the page says of itself: {title}, {description}, and its picture."
      first={{ title: '{title}', text: '{description}' }}
      given={links.length > 0 ? { media: null, links } : null}
    >
      <Field label="Links, one below the other">
        {(id) => (
          <textarea id={id} className="field h-20 text-sm" value={typed} onChange={(e) => setTyped(e.target.value)} />
        )}
      </Field>
    </Making>
  );
}

interface Props {
  title: string;
  words: string;
  first: { title: string; text: string };
  /** Null: nothing is chosen yet. */
  given: { media: string[] | null; links: string[] | null } | null;
  children: ReactNode;
}

function Making({ title, words, first, given, children }: Props) {
  const { to } = useWorkspacePath();
  const navigate = useNavigate();
  const categories = useCategories();
  const make = useMakeImport();
  const [pattern, setPattern] = useState(first);
  const [category, setCategory] = useState('');
  const name = categories.data?.find((c) => c.id === category)?.name;
  const id = `making-${title.replace(/\W/g, '')}`;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (given && name)
      make.mutate(
        { ...given, ...pattern, category: name },
        { onSuccess: (made) => navigate(to(`bank/import/${made.id}?step=rows`)) },
      );
  };
  return (
    <section aria-labelledby={id}>
      <h2 id={id} className="border-ink border-b-[1.5px] pb-1">
        {title}
      </h2>
      <form className="flex flex-col gap-2 py-2" onSubmit={submit}>
        <p className="text-sm">{words}</p>
        {children}
        <div className="grid grid-cols-3 gap-3">
          <Field label="Category">
            {(field) => <CategorySelect id={field} value={category} onChange={setCategory} />}
          </Field>
          <Field label="Title">
            {(field) => (
              <input
                id={field}
                className="field"
                maxLength={300}
                value={pattern.title}
                onChange={(e) => setPattern({ ...pattern, title: e.target.value })}
              />
            )}
          </Field>
          <Field label="Text">
            {(field) => (
              <input
                id={field}
                className="field"
                maxLength={2000}
                value={pattern.text}
                onChange={(e) => setPattern({ ...pattern, text: e.target.value })}
              />
            )}
          </Field>
        </div>
        <FormError error={make.error} />
        {make.isPending && given?.links && (
          <Progress words={`Reading ${count(given.links.length, 'page')}`} share={null} />
        )}
        <div>
          <Button type="submit" disabled={!given || !name || make.isPending}>
            Go on with these
          </Button>
        </div>
      </form>
    </section>
  );
}
