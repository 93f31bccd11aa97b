import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import ICAL from 'ical.js';
import { describe, expect, it } from 'vitest';

const file = (name: string) => readFileSync(join(__dirname, '../../../../tests/Shared', name), 'utf8');

/** Beside ical.js 2.2 (npm), which reads what is written here, and writes what is read here. */
describe('calendar files', () => {
  it('say to another program what was meant', () => {
    const calendar = new ICAL.Component(ICAL.parse(file('written.ics')));
    expect(calendar.getFirstPropertyValue('name')).toContain('Marram & Slip');
    const [post, fair] = calendar.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));
    expect(post?.summary).toBe(
      'Ropes; nets, and “splices” with a title that goes on and on until no line could hold all of it ⚓️',
    );
    expect(post?.description).toBe('Jot: planned\nHearth: planned\nback\\slash');
    expect(post?.startDate.toJSDate().toISOString()).toBe('2026-11-24T09:30:00.000Z');
    expect(post?.component.getFirstPropertyValue('url')).toBe('https://example.org/a?b=c,d');
    expect([fair?.startDate.isDate, fair?.startDate.toString(), fair?.endDate.toString()]).toEqual([
      true,
      '2026-12-01',
      '2026-12-04',
    ]);
  });

  it('are read here as another program wrote them', () => {
    expect(file('read.ics')).toBe(`${writtenByAnother()}\r\n`);
  });
});

/** The core's tests read the kept copy of this. */
function writtenByAnother(): string {
  const calendar = new ICAL.Component('vcalendar');
  calendar.updatePropertyWithValue('version', '2.0');
  calendar.updatePropertyWithValue('prodid', '-//another program//EN');
  const market = new ICAL.Event();
  market.uid = 'market';
  market.summary = 'Quay market; ropes, nets and a title that is folded since no line is as long as this one is ⚓️';
  market.description = 'Bring:\nropes\\nets';
  market.startDate = ICAL.Time.fromData({
    year: 2026,
    month: 12,
    day: 1,
    hour: 19,
    minute: 0,
    second: 0,
    isDate: false,
  });
  market.component.getFirstProperty('dtstart')?.setParameter('tzid', 'Europe/Dublin');
  market.component.addPropertyWithValue('rrule', ICAL.Recur.fromString('FREQ=MONTHLY;BYDAY=1TU;COUNT=6'));
  market.component.addPropertyWithValue('exdate', ICAL.Time.fromDateTimeString('2027-01-05T19:00:00'));
  const fair = new ICAL.Event();
  fair.uid = 'fair';
  fair.summary = 'Boat fair';
  fair.startDate = ICAL.Time.fromDateString('2027-07-01');
  fair.endDate = ICAL.Time.fromDateString('2027-07-04');
  calendar.addSubcomponent(market.component);
  calendar.addSubcomponent(fair.component);
  return calendar.toString();
}
