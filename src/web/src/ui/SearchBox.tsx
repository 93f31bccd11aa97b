import { useEffect, useRef, useState } from 'react';

interface Props {
  label: string;
  placeholder: string;
  value: string;
  /** Told once whoever types pauses. */
  onChange: (value: string) => void;
  /** Told at each letter, and of a value from elsewhere. */
  onTyped?: (value: string) => void;
}

/** Words to search for. A value that is given from elsewhere takes the place of what is typed. */
export function SearchBox({ label, placeholder, value, onChange, onTyped }: Props) {
  const [typed, setTyped] = useState(value);
  /** What was told and hasn't come back yet, in its order, after what came back last. */
  const told = useRef<readonly string[]>([]);
  const tell = useRef({ onChange, onTyped });
  tell.current = { onChange, onTyped };
  useEffect(() => {
    const place = told.current.lastIndexOf(value);
    told.current = place < 0 ? [value] : told.current.slice(place);
    if (place >= 0) return;
    setTyped(value);
    tell.current.onTyped?.(value);
  }, [value]);
  useEffect(() => {
    if (typed === told.current.at(-1)) return;
    const timer = setTimeout(() => {
      told.current = [...told.current, typed];
      tell.current.onChange(typed);
    }, 250);
    return () => clearTimeout(timer);
  }, [typed]);
  return (
    <input
      type="search"
      className="field !w-56"
      aria-label={label}
      placeholder={placeholder}
      maxLength={200}
      value={typed}
      onChange={(event) => {
        setTyped(event.target.value);
        onTyped?.(event.target.value);
      }}
    />
  );
}
