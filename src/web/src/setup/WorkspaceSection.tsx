import { useState } from 'react';
import { limits } from '../api/limits';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Fetched } from '../ui/States';
import { useEditWorkspace, useWorkspace, type Workspace } from '../workspaces/workspace';
import { PauseButton } from './PauseButton';

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
