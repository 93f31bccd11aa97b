import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask } from '../api/client';
import { limits } from '../api/limits';
import { refresh } from '../api/queries';
import { type Channel, useDisconnect } from '../channels/channels';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useWorkspacePath } from '../workspaces/workspace';

const number = (text: string) => (text === '' ? null : Number(text));

/** How closely a channel may be filled, and the end of its connection. */
export function ChannelForm({ channel, onDone }: { channel: Channel; onDone: () => void }) {
  return (
    <>
      <Filling channel={channel} onDone={onDone} />
      {channel.connection !== 'disconnected' && <Disconnect channel={channel} onDone={onDone} />}
    </>
  );
}

/** Can't be undone, since the tokens are forgotten: it says first what it does, and is pressed twice. */
function Disconnect({ channel, onDone }: { channel: Channel; onDone: () => void }) {
  const disconnect = useDisconnect(channel);
  const [asked, setAsked] = useState(false);
  return (
    <section className="mt-6 border-rule border-t pt-4">
      {asked ? (
        <>
          <p className="mb-3">
            Everything still to go out on {channel.name} is cancelled, and the recurring week leaves it out. What it
            sent and earned stays. Connecting the same account again brings the channel back.
          </p>
          <div className="flex gap-2">
            <Button
              className="text-bad"
              disabled={disconnect.isPending}
              onClick={() => disconnect.mutate(undefined, { onSuccess: onDone })}
            >
              Disconnect {channel.name}
            </Button>
            <Button variant="quiet" onClick={() => setAsked(false)}>
              Keep it
            </Button>
          </div>
        </>
      ) : (
        <Button onClick={() => setAsked(true)}>Disconnect the channel…</Button>
      )}
    </section>
  );
}

/** Least distance and most a day. */
function Filling({ channel, onDone }: { channel: Channel; onDone: () => void }) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const [spacing, setSpacing] = useState(channel.spacingMinutes?.toString() ?? '');
  const [limit, setLimit] = useState(channel.dailyLimit?.toString() ?? '');
  const [figures, setFigures] = useState(() => Object.fromEntries(channel.figures.map((f) => [f.figure, f.own ?? ''])));
  const save = useMutation({
    mutationFn: () =>
      ask(
        api.PUT('/api/workspaces/{workspaceId}/channels/{id}', {
          params: { path: { ...path, id: channel.id } },
          body: { spacingMinutes: number(spacing), dailyLimit: number(limit), figures },
        }),
      ),
    onSuccess: async () => {
      await refresh(client, id, ['channels', 'posts']);
      onDone();
    },
  });
  return (
    <form
      className="flex flex-col gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Field
        label="Least minutes between two deliveries"
        hint="A place of the rota that would come nearer gives way. Empty: any."
      >
        {(field, below) => (
          <input
            id={field}
            aria-describedby={below}
            type="number"
            {...limits.ChannelEdit.spacingMinutes}
            className="field !w-28"
            value={spacing}
            onChange={(e) => setSpacing(e.target.value)}
          />
        )}
      </Field>
      <Field label="Most deliveries a day" hint="Empty: any number.">
        {(field, below) => (
          <input
            id={field}
            aria-describedby={below}
            type="number"
            {...limits.ChannelEdit.dailyLimit}
            className="field !w-28"
            value={limit}
            onChange={(e) => setLimit(e.target.value)}
          />
        )}
      </Field>
      {channel.figures.map((figure) => (
        <OwnFigure
          key={figure.figure}
          figure={figure}
          value={figures[figure.figure] ?? ''}
          onChange={(value) => setFigures({ ...figures, [figure.figure]: value })}
        />
      ))}
      <FormError error={save.error} />
      <div>
        <Button type="submit" variant="primary" disabled={save.isPending}>
          Save the channel
        </Button>
      </div>
    </form>
  );
}

interface FigureProps {
  figure: Channel['figures'][number];
  /** Empty: as for most accounts. */
  value: string;
  onChange: (value: string) => void;
}

/** What of the network's rules is otherwise for this account: a longer limit, what a business account may. */
function OwnFigure({ figure, value, onChange }: FigureProps) {
  if (figure.usual === 'true' || figure.usual === 'false')
    return (
      <Checkbox
        checked={(value || figure.usual) === 'true'}
        onChange={(on) => onChange(String(on) === figure.usual ? '' : String(on))}
      >
        {figure.name}
      </Checkbox>
    );
  return (
    <Field label={figure.name} hint={`Empty: ${figure.usual}, as for most accounts.`}>
      {(field, below) => (
        <input
          id={field}
          aria-describedby={below}
          type="number"
          min={1}
          className="field !w-28"
          value={value}
          onChange={(e) => onChange(e.target.value)}
        />
      )}
    </Field>
  );
}
