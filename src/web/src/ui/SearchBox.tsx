import { useEffect, useState } from 'react';

interface Props {
  label: string;
  placeholder: string;
  value: string;
  onChange: (value: string) => void;
}

/** Words to search for, told once whoever types them pauses. */
export function SearchBox({ label, placeholder, value, onChange }: Props) {
  const [typed, setTyped] = useState(value);
  useEffect(() => {
    if (typed === value) return;
    const timer = setTimeout(() => onChange(typed), 250);
    return () => clearTimeout(timer);
  }, [typed, value, onChange]);
  return (
    <input
      type="search"
      className="field !w-56"
      aria-label={label}
      placeholder={placeholder}
      maxLength={200}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
    />
  );
}
