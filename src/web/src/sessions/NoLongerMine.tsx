import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { onNotFound } from '../api/client';
import { Button } from '../ui/Button';
import { Dialog } from '../ui/Dialog';

/** Asked no more often than that whether something is missing because somebody was taken out of a workspace, in milliseconds. */
const pause = 5_000;

/** Where something isn't found, it is asked anew which workspaces are one's own. */
export function useSessionAfterNotFound() {
  const client = useQueryClient();
  const asked = useRef(0);
  useEffect(
    () =>
      onNotFound(() => {
        const now = Date.now();
        if (now - asked.current < pause) return;
        asked.current = now;
        void client.invalidateQueries({ queryKey: ['session'] });
      }),
    [client],
  );
}

/** Comes up over whatever is open when somebody was taken out of its workspace. */
export function NoLongerMine({ name }: { name: string }) {
  const [isOpen, setOpen] = useState(true);
  return (
    <Dialog
      open={isOpen}
      title={`You no longer belong to ${name}`}
      description="Nothing more can be saved there. What you typed is still here, to be copied. An owner of the workspace can let you in again."
      className="w-96 p-6"
    >
      <div className="flex items-center gap-4">
        <Button onClick={() => setOpen(false)}>Stay, to copy it</Button>
        <a className="link" href="/">
          Go to your other workspaces
        </a>
      </div>
    </Dialog>
  );
}
