import { useRef, useState } from 'react';
import { Popover } from '../../ui/Popover';
import { findEmoji, groupNames, useEmoji } from './emoji';

const columns = 9;
const most = 180;

/** Chooses an emoji by group or by name; all of it by keys. */
export function EmojiPicker({ label, onChosen }: { label: string; onChosen: (emoji: string) => void }) {
  const [open, setOpen] = useState(false);
  const chosen = useRef<string | null>(null);
  return (
    <Popover
      label="Emoji"
      open={open}
      onOpenChange={setOpen}
      // The caret goes back to where the emoji was put, not to the button.
      onCloseAutoFocus={(event) => {
        if (chosen.current === null) return;
        event.preventDefault();
        onChosen(chosen.current);
        chosen.current = null;
      }}
      trigger={
        <button type="button" aria-label={label} className="min-h-6 min-w-6 rounded-sm px-1.5 hover:bg-wash">
          ☺
        </button>
      }
    >
      {open && (
        <Grid
          onChosen={(emoji) => {
            chosen.current = emoji;
            setOpen(false);
          }}
        />
      )}
    </Popover>
  );
}

function Grid({ onChosen }: { onChosen: (emoji: string) => void }) {
  const all = useEmoji(true).data ?? [];
  const [sought, setSought] = useState('');
  const [group, setGroup] = useState(0);
  const [at, setAt] = useState(0);
  const grid = useRef<HTMLFieldSetElement>(null);
  const shown = (sought.trim() ? findEmoji(all, sought) : all.filter((e) => e.group === group)).slice(0, most);
  const goTo = (to: number) => {
    if (to < 0 || to >= shown.length) return;
    setAt(to);
    grid.current?.querySelectorAll<HTMLElement>('[data-emoji]')[to]?.focus();
  };
  const moves: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: columns, ArrowUp: -columns };
  return (
    <div className="w-[21rem]">
      <input
        className="field"
        aria-label="Find an emoji"
        placeholder="bird, wave, sun …"
        value={sought}
        onChange={(event) => {
          setSought(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') {
            event.preventDefault();
            goTo(0);
          }
          const first = shown[0];
          if (event.key === 'Enter' && first) {
            event.preventDefault();
            onChosen(first.unicode);
          }
        }}
      />
      <fieldset className="mt-1.5 flex justify-between">
        <legend className="sr-only">Groups</legend>
        {groupNames.map(([key, sign, name]) => (
          <button
            key={key}
            type="button"
            aria-label={name}
            title={name}
            aria-pressed={group === key && !sought}
            className="min-h-7 min-w-7 rounded-sm hover:bg-wash aria-pressed:bg-ink aria-pressed:text-paper"
            onClick={() => {
              setGroup(key);
              setSought('');
              setAt(0);
            }}
          >
            {sign}
          </button>
        ))}
      </fieldset>
      <fieldset
        ref={grid}
        className="mt-1.5 grid h-52 grid-cols-9 content-start overflow-y-auto"
        onKeyDown={(event) => {
          const by = moves[event.key];
          if (by === undefined) return;
          event.preventDefault();
          goTo(at + by);
        }}
      >
        <legend className="sr-only">Emoji, by arrow keys</legend>
        {shown.map((emoji, i) => (
          <button
            key={emoji.unicode}
            type="button"
            data-emoji
            tabIndex={i === at ? 0 : -1}
            aria-label={emoji.label}
            title={emoji.label}
            className="h-8 rounded-sm text-lg hover:bg-wash"
            onFocus={() => setAt(i)}
            onClick={() => onChosen(emoji.unicode)}
          >
            {emoji.unicode}
          </button>
        ))}
        {all.length > 0 && shown.length === 0 && (
          <p className="col-span-9 p-2 text-faded text-sm">None is called that.</p>
        )}
      </fieldset>
    </div>
  );
}
