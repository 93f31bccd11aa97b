import { type ReactNode, useEffect, useRef, useState } from 'react';

interface Props {
  onFiles: (files: File[]) => void;
  /** Takes what is pasted anywhere on the page, not only within. */
  pastedAnywhere?: boolean;
  className?: string;
  children: ReactNode;
}

/** Takes files that are dropped on it or pasted. */
export function DropArea({ onFiles, pastedAnywhere = false, className = '', children }: Props) {
  const [over, setOver] = useState(false);
  const taker = useRef(onFiles);
  taker.current = onFiles;
  useEffect(() => {
    if (!pastedAnywhere) return;
    const take = (event: ClipboardEvent) => {
      const files = [...(event.clipboardData?.files ?? [])];
      if (files.length === 0 || event.defaultPrevented) return;
      event.preventDefault();
      taker.current(files);
    };
    document.addEventListener('paste', take);
    return () => document.removeEventListener('paste', take);
  }, [pastedAnywhere]);
  const hasFiles = (event: React.DragEvent) => event.dataTransfer.types.includes('Files');
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the same is done by the button within
    <div
      className={`${className} ${over ? 'outline-2 outline-dawn outline-dashed outline-offset-4' : ''}`}
      onDragOver={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        // One within this one has taken them.
        setOver(false);
        if (!hasFiles(event) || event.defaultPrevented) return;
        event.preventDefault();
        onFiles([...event.dataTransfer.files]);
      }}
      onPaste={(event) => {
        const files = [...event.clipboardData.files];
        if (pastedAnywhere || files.length === 0 || event.defaultPrevented) return;
        event.preventDefault();
        onFiles(files);
      }}
    >
      {children}
    </div>
  );
}
