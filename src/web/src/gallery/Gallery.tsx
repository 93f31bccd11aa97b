import { type ReactNode, useState } from 'react';
import { Monogram } from '../categories/categories';
import { palette } from '../categories/palette';
import { StateMark } from '../deliveries/StateMark';
import type { Form } from '../deliveries/states';
import { useTheme } from '../frame/theme';
import { Mark, useNetworks } from '../networks/networks';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { Combobox } from '../ui/Combobox';
import { DateField } from '../ui/DateField';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { FileButton } from '../ui/FileButton';
import { FormError } from '../ui/FormError';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import { useNotices } from '../ui/Notices';
import { Popover } from '../ui/Popover';
import { Progress } from '../ui/Progress';
import { Select } from '../ui/Select';
import { Sheet } from '../ui/Sheet';
import { Empty, Failed, Waiting } from '../ui/States';
import { Table } from '../ui/Table';
import { Tabs } from '../ui/Tabs';
import { TimeField } from '../ui/TimeField';
import { Tip } from '../ui/Tip';
import { comingMarks } from './marks';

/** All parts of the interface on one page, to look at and to test; no planner is led here. */
export function Gallery() {
  const [theme, setTheme] = useTheme();
  const dark = theme === 'dark';
  return (
    <main className="mx-auto max-w-6xl px-8 py-6">
      <div className="mb-6 flex items-baseline gap-6">
        <h1>The gallery</h1>
        <Button onClick={() => setTheme(dark ? 'light' : 'dark')}>{dark ? 'Light' : 'Dark'}</Button>
      </div>
      <div className="grid grid-cols-2 gap-x-12 gap-y-8">
        <Buttons />
        <Fields />
        <Overlays />
        <Lists />
        <States />
        <Marks />
      </div>
    </main>
  );
}

function Part({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section>
      <h2 className="mb-3 border-ink border-b-[1.5px] pb-1">{name}</h2>
      <div className="flex flex-col gap-4">{children}</div>
    </section>
  );
}

const Row = ({ children }: { children: ReactNode }) => (
  <div className="flex flex-wrap items-center gap-3">{children}</div>
);

function Buttons() {
  const { tell, trouble } = useNotices();
  const [said, setSaid] = useState('nothing yet');
  return (
    <Part name="Buttons, menu, notices">
      <Row>
        <Button
          variant="primary"
          onClick={() => tell('The walk moved to Tuesday.', { label: 'Undo', run: () => setSaid('undone') })}
        >
          Move the walk
        </Button>
        <Button onClick={() => trouble('The ferry’s network did not answer. Nothing was sent; try again.')}>
          Fail
        </Button>
        <Button variant="quiet">Quiet</Button>
        <Button disabled>Not now</Button>
        <FileButton label="Choose a file" accept="image/png" onFiles={([file]) => setSaid(file?.name ?? 'no file')} />
      </Row>
      <Row>
        <Menu label="Acts:" trigger="Choose an act ▾">
          <MenuText>For the chosen walk</MenuText>
          <MenuItem onSelect={() => setSaid('skipped')}>Skip it</MenuItem>
          <MenuItem onSelect={() => setSaid('copied')}>Copy it</MenuItem>
          <MenuItem disabled onSelect={() => setSaid('never')}>
            Not to be had
          </MenuItem>
        </Menu>
        <span>
          Last act: <b data-said>{said}</b>
        </span>
      </Row>
    </Part>
  );
}

const kinds = ['Walks', 'Ringing', 'Hostel', 'Harbour'].map((label) => ({ value: label.toLowerCase(), label }));

function Fields() {
  const [text, setText] = useState('');
  const [kind, setKind] = useState('walks');
  const [date, setDate] = useState('2026-03-02');
  const [time, setTime] = useState('09:30');
  const [side, setSide] = useState<'left' | 'right'>('left');
  return (
    <Part name="Fields">
      <Field
        label="Name of the walk"
        hint="Shown to nobody else."
        error={text.length > 12 ? `${text.length} letters; write 12 at most.` : null}
      >
        {(id, below) => (
          <input
            id={id}
            aria-describedby={below}
            aria-invalid={text.length > 12}
            className="field"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </Field>
      <div className="grid grid-cols-[1fr_1.2fr_auto] gap-4">
        <Field label="Kind">
          {(id) => <Select id={id} value={kind} none="All kinds" options={kinds} onChange={setKind} />}
        </Field>
        <Field label="Day">{(id) => <DateField id={id} value={date} today="2026-03-01" onChange={setDate} />}</Field>
        <Field label="Time">{(id) => <TimeField id={id} value={time} onChange={setTime} />}</Field>
      </div>
      <Row>
        <Choice
          label="Side"
          value={side}
          options={[
            { value: 'left', label: 'Left' },
            { value: 'right', label: 'Right' },
          ]}
          onChange={setSide}
        />
        <span data-chosen>{`${kind || 'all'} ${date} ${time} ${side}`}</span>
      </Row>
      <FormError error={new Error('The walk has no meeting place. Name one and save again.')} />
    </Part>
  );
}

function Overlays() {
  const [open, setOpen] = useState<'dialog' | 'sheet' | 'finder' | null>(null);
  const [typed, setTyped] = useState('');
  const close = () => setOpen(null);
  return (
    <Part name="Over and beside a view">
      <Row>
        <Button onClick={() => setOpen('dialog')}>Open the dialog</Button>
        <Button onClick={() => setOpen('sheet')}>Open the sheet</Button>
        <Button onClick={() => setOpen('finder')}>Open the finder</Button>
        <Popover label="About the tide" trigger={<Button>Open the popover</Button>}>
          <p className="w-56">Low water at 11:40; the slip is dry for an hour on either side.</p>
        </Popover>
        <Tip content="Low water at 11:40">
          <Button variant="quiet">Point at me</Button>
        </Tip>
      </Row>
      <Dialog
        open={open === 'dialog'}
        onClose={close}
        title="A dialog"
        description="It is closed with Esc or its button."
      >
        <Button variant="primary" onClick={close}>
          Close the dialog
        </Button>
      </Dialog>
      <Dialog open={open === 'finder'} onClose={close} title="Find a kind" titleHidden className="w-[30rem]">
        <Combobox
          label="Find a kind of walk"
          placeholder="A few letters …"
          typed={typed}
          onType={setTyped}
          found={kinds
            .filter((k) => k.label.toLowerCase().includes(typed.toLowerCase()))
            .map((k) => ({ key: k.value, words: k.label, kind: 'kind' }))}
          onChoose={close}
        />
      </Dialog>
      <Sheet open={open === 'sheet'} onClose={close} title="A sheet">
        <p>The view beside it stays in use.</p>
      </Sheet>
    </Part>
  );
}

const tides = [
  { day: 'Mon 2 Mar', high: '05:31', metres: '4.1' },
  { day: 'Tue 3 Mar', high: '06:12', metres: '4.4' },
];

function Lists() {
  const [tab, setTab] = useState<'tides' | 'walks'>('tides');
  return (
    <Part name="Tabs, table, progress">
      <Tabs
        label="Parts of the day"
        value={tab}
        onChange={setTab}
        tabs={[
          {
            value: 'tides',
            label: 'Tides',
            content: (
              <Table
                caption="High water"
                rows={tides}
                keyOf={(row) => row.day}
                columns={[
                  { name: 'Day', names: true, show: (row) => row.day },
                  { name: 'High water', figure: true, show: (row) => row.high },
                  { name: 'Metres', figure: true, show: (row) => row.metres },
                ]}
              />
            ),
          },
          { value: 'walks', label: 'Walks', content: <p>No walk before the ferry is back.</p> },
        ]}
      />
      <Progress words="Adding pictures" share={0.4} onCancel={() => {}} />
      <Progress words="Reading the sheet" share={null} />
    </Part>
  );
}

function States() {
  return (
    <Part name="Nothing there, waiting, failed">
      <Empty title="No walk is planned" act={<Button>Plan one</Button>}>
        Walks appear here a week ahead.
      </Empty>
      <Waiting what="the tides" />
      <Failed error={new Error('The tide table did not answer.')} retry={() => {}} />
    </Part>
  );
}

const forms: Record<Form, string> = {
  open: 'may change',
  scheduled: 'scheduled',
  sending: 'sending',
  sent: 'sent',
  failed: 'failed',
  empty: 'empty',
};

function Marks() {
  const networks = useNetworks().data ?? [];
  const marks = [...networks.map((n) => [n.name, n.mark] as const), ...Object.entries(comingMarks)];
  return (
    <Part name="Categories, states, networks">
      <Row>
        {Object.keys(palette).map((colour) => (
          <Monogram key={colour} category={{ name: colour, colour, monogram: colour.slice(0, 2) }} />
        ))}
      </Row>
      <Row>
        {(Object.keys(forms) as Form[]).map((form) => (
          <span key={form} className="inline-flex items-center gap-1.5 text-sm">
            <StateMark form={form} /> {forms[form]}
          </span>
        ))}
      </Row>
      <div className="grid grid-cols-3 gap-2">
        {(Object.keys(forms) as Form[]).map((form) => (
          <span key={form} className={`edge-${form} rounded-sm px-2 py-1 text-sm`}>
            {forms[form]}
          </span>
        ))}
      </div>
      <Row>
        {marks.map(([name, mark]) => (
          <span key={name} className="inline-flex items-center gap-1.5 text-sm">
            <Mark path={mark} size={20} />
            {name}
          </span>
        ))}
      </Row>
    </Part>
  );
}
