import { useState } from 'react';
import { useChannels } from '../channels/channels';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import { channelCopied, type Draft, dayCopied } from './draft';

const dayNames = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** A day onto another, or the week of a channel onto another's. */
export function Copying({ slots, set }: { slots: readonly Draft[]; set: (slots: readonly Draft[]) => void }) {
  const channels = useChannels().data ?? [];
  const [from, setFrom] = useState<{ day: number } | { channel: string } | null>(null);
  return (
    <Menu label="Copy a day or a channel's week:" trigger="Copy ▾" onOpenChange={(open) => !open && setFrom(null)}>
      {from === null && (
        <>
          <MenuText>Copy a day</MenuText>
          {dayNames.map((name, i) => (
            <MenuItem key={name} stays onSelect={() => setFrom({ day: i + 1 })}>
              {name} …
            </MenuItem>
          ))}
          <MenuText>Copy a channel’s week</MenuText>
          {channels.map((c) => (
            <MenuItem key={c.id} stays onSelect={() => setFrom({ channel: c.id })}>
              {c.name} …
            </MenuItem>
          ))}
        </>
      )}
      {from && 'day' in from && (
        <>
          <MenuText>{dayNames[from.day - 1]} onto</MenuText>
          {dayNames.map(
            (name, i) =>
              i + 1 !== from.day && (
                <MenuItem key={name} onSelect={() => set(dayCopied(slots, from.day, i + 1))}>
                  {name}
                </MenuItem>
              ),
          )}
        </>
      )}
      {from && 'channel' in from && (
        <>
          <MenuText>Its week onto</MenuText>
          {channels
            .filter((c) => c.id !== from.channel)
            .map((c) => (
              <MenuItem key={c.id} onSelect={() => set(channelCopied(slots, from.channel, c.id))}>
                {c.name}
              </MenuItem>
            ))}
        </>
      )}
    </Menu>
  );
}
