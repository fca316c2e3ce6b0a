/** Files as the kernel's documentation of /sys/class/power_supply describes them. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { batteryOf } from './battery.js';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'lantern-power-'))));
afterEach(() => rmSync(folder, { recursive: true }));

function supply(name: string, files: Readonly<Record<string, string>>): void {
  mkdirSync(join(folder, name));
  for (const [file, text] of Object.entries(files)) writeFileSync(join(folder, name, file), `${text}\n`);
}

describe('batteryOf', () => {
  it('tells the charge while a battery empties, and nothing on a plug', async () => {
    supply('BAT0', { type: 'Battery', status: 'Discharging', capacity: '37', scope: 'System' });
    supply('AC', { type: 'Mains', online: '0' });
    expect(await batteryOf(folder)).toBe(37);
    writeFileSync(join(folder, 'AC', 'online'), '1\n');
    expect(await batteryOf(folder)).toBeNull();
  });

  it('leaves batteries of mice, full ones and unreadable ones alone', async () => {
    supply('mouse', { type: 'Battery', status: 'Discharging', capacity: '3', scope: 'Device' });
    supply('BAT0', { type: 'Battery', status: 'Full', capacity: '100' });
    supply('odd', { type: 'Battery', status: 'Discharging' });
    supply('word', { type: 'Battery', status: 'Discharging', capacity: 'some' });
    expect(await batteryOf(folder)).toBe(0);
    rmSync(join(folder, 'odd'), { recursive: true });
    expect(await batteryOf(folder)).toBeNull();
    expect(await batteryOf(join(folder, 'nowhere'))).toBeNull();
  });
});
