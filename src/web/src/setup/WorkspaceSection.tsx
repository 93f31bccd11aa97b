import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask, wordsOf } from '../api/client';
import { limits } from '../api/limits';
import { ColourChoice } from '../categories/ColourChoice';
import { MediaChooser } from '../media/MediaChooser';
import { WorkspaceMark } from '../media/WorkspaceMark';
import { PauseButton } from '../pauses/PauseButton';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Fetched } from '../ui/States';
import {
  useEditWorkspace,
  useWorkspace,
  useWorkspaceLink,
  useWorkspacePath,
  type Workspace,
} from '../workspaces/workspace';

export function WorkspaceSection() {
  const workspace = useWorkspace();
  return (
    <section aria-labelledby="workspace" className="max-w-3xl">
      <h2 id="workspace" className="mb-3 border-ink border-b-[1.5px] pb-1">
        Name and time
      </h2>
      <Fetched query={workspace} what="the settings">
        {(data) => <WorkspaceForm key={data.id} workspace={data} />}
      </Fetched>
      <div className="mt-8 flex items-center gap-4 border-rule border-t pt-4">
        <p className="flex-1 text-faded">
          On a bad day nothing at all goes out, scheduled and exact times included. What falls due meanwhile is missed;
          lifting the hold sends no backlog.
        </p>
        <PauseButton what="workspace" name="All sending" words="Stop all sending" />
      </div>
    </section>
  );
}

const zones = Intl.supportedValuesOf('timeZone');

function WorkspaceForm({ workspace }: { workspace: Workspace }) {
  const save = useEditWorkspace();
  const { tell } = useNotices();
  const [name, setName] = useState(workspace.name);
  const [zone, setZone] = useState(workspace.zone);
  const [scheduleAheadHours, setScheduleAheadHours] = useState(workspace.scheduleAheadHours);
  const [lateMinutes, setLateMinutes] = useState(workspace.lateMinutes);
  const [warnAboveRepeatsPercent, setWarnAboveRepeatsPercent] = useState(workspace.warnAboveRepeatsPercent);
  const [verbs, setVerbs] = useState(workspace.buttonVerbs.join('\n'));
  const [colour, setColour] = useState(workspace.colour);
  const [allowsOwnApproval, setAllowsOwnApproval] = useState(workspace.allowsOwnApproval);
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(
          {
            name,
            zone,
            scheduleAheadHours,
            lateMinutes,
            warnAboveRepeatsPercent,
            allowsOwnApproval,
            buttonVerbs: verbs.split('\n'),
            colour,
          },
          { onSuccess: () => tell('Saved.') },
        );
      }}
    >
      <Field label="Name of the workspace">
        {(id) => (
          <input
            id={id}
            className="field"
            required
            {...limits.WorkspaceEdit.name}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        )}
      </Field>
      <div className="flex flex-wrap items-end gap-x-10 gap-y-3">
        <ColourChoice value={colour} onChange={setColour} />
        <Logo workspace={workspace} />
      </div>
      <Field label="Time zone" hint="All times of the rota and the calendar are read in it.">
        {(id) => (
          <>
            <input
              id={id}
              className="field"
              required
              list="zones"
              value={zone}
              onChange={(e) => setZone(e.target.value)}
            />
            <datalist id="zones">
              {zones.map((z) => (
                <option key={z} value={z} />
              ))}
            </datalist>
          </>
        )}
      </Field>
      <div className="flex gap-4">
        <Field
          label="Schedule ahead by … hours"
          hint="Nearer than this, only a person changes a place."
          className="flex-1"
        >
          {(id) => (
            <input
              id={id}
              type="number"
              {...limits.WorkspaceEdit.scheduleAheadHours}
              required
              className="field"
              value={scheduleAheadHours}
              onChange={(e) => setScheduleAheadHours(e.target.valueAsNumber)}
            />
          )}
        </Field>
        <Field label="Missed after, minutes" hint="Later than this, nothing goes by itself." className="flex-1">
          {(id) => (
            <input
              id={id}
              type="number"
              {...limits.WorkspaceEdit.lateMinutes}
              required
              className="field"
              value={lateMinutes}
              onChange={(e) => setLateMinutes(e.target.valueAsNumber)}
            />
          )}
        </Field>
      </div>
      <Field
        label="Warn above … % repeats"
        hint="A channel that shows more repeats than this is named on Today."
        className="w-1/2"
      >
        {(id) => (
          <input
            id={id}
            type="number"
            {...limits.WorkspaceEdit.warnAboveRepeatsPercent}
            required
            className="field"
            value={warnAboveRepeatsPercent}
            onChange={(e) => setWarnAboveRepeatsPercent(e.target.valueAsNumber)}
          />
        )}
      </Field>
      <Checkbox checked={allowsOwnApproval} onChange={setAllowsOwnApproval}>
        Whoever changed a post last may approve it as well
      </Checkbox>
      <Field label="What buttons say, one to a line" hint="Offered where a network has buttons; empty: anything goes.">
        {(id, below) => (
          <textarea
            id={id}
            aria-describedby={below}
            rows={4}
            className="field"
            value={verbs}
            onChange={(e) => setVerbs(e.target.value)}
          />
        )}
      </Field>
      <FormError error={save.error} />
      <div>
        <Button type="submit" variant="primary" disabled={save.isPending}>
          Save
        </Button>
      </div>
    </form>
  );
}

/** A picture among the media that stands for the workspace wherever several are shown. */
function Logo({ workspace }: { workspace: Workspace }) {
  const link = useWorkspaceLink();
  const { path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const [isOpen, setOpen] = useState(false);
  const save = useMutation({
    mutationFn: (fileId: string | null) =>
      ask(api.PUT('/api/workspaces/{workspaceId}/logo', { params: { path }, body: { fileId } })),
    onSuccess: () =>
      Promise.all(['workspace', 'session'].map((name) => client.invalidateQueries({ queryKey: [name] }))),
    onError: (error) => trouble(wordsOf(error)),
  });
  return (
    <div className="flex items-center gap-3">
      <WorkspaceMark workspace={{ ...link, logoId: workspace.logoId }} size={34} />
      <Button onClick={() => setOpen(true)}>Choose a logo …</Button>
      {workspace.logoId && (
        <Button variant="quiet" onClick={() => save.mutate(null)}>
          Take it away
        </Button>
      )}
      {isOpen && (
        <MediaChooser
          sort="picture"
          most={1}
          onChosen={([file]) => {
            setOpen(false);
            if (file) save.mutate(file.id);
          }}
          onClose={() => setOpen(false)}
        />
      )}
    </div>
  );
}
