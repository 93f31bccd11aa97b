import { palette } from './palette';

/** One of the palette's colours. */
export function ColourChoice({ value, onChange }: { value: string; onChange: (colour: string) => void }) {
  return (
    <fieldset>
      <legend className="mb-1 text-faded text-sm">Colour</legend>
      <div className="flex flex-wrap gap-1.5">
        {Object.keys(palette).map((key) => (
          <label key={key} className="cursor-pointer" title={key}>
            <input
              type="radio"
              name="colour"
              className="peer sr-only"
              checked={value === key}
              onChange={() => onChange(key)}
            />
            <span
              className="block size-8 rounded-sm border-2 border-transparent outline-offset-2 peer-checked:outline-2 peer-checked:outline-ink peer-focus-visible:outline-2 peer-focus-visible:outline-dawn"
              style={{ background: `var(--${key})` }}
            />
            <span className="sr-only">{key}</span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}
