import { useRef } from 'react';

/** Gives the keys back, when something closes, to what had them when it opened. Handlers for a dialog's content. */
export function useOpener() {
  const opener = useRef<Element | null>(null);
  return {
    onOpenAutoFocus: () => {
      opener.current = document.activeElement;
    },
    onCloseAutoFocus: (event: Event) => {
      event.preventDefault();
      if (opener.current instanceof HTMLElement && opener.current.isConnected) opener.current.focus();
    },
  };
}
