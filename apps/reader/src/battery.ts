import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Battery } from '@lantern/core/discovery';

/** Where Linux tells of power supplies (kernel documentation, ABI/testing/sysfs-class-power). */
const SUPPLIES = '/sys/class/power_supply';

/** Charge of the battery that this machine runs on, in percent; null where it is plugged in, or has none. */
export async function batteryOf(folder = SUPPLIES): Promise<Battery> {
  const names = await readdir(folder).catch(() => []);
  const supplies = await Promise.all(names.map((name) => supplyIn(join(folder, name))));
  if (supplies.some(({ type, online }) => type !== 'Battery' && online === '1')) return null;
  const charges = supplies.flatMap(({ type, status, scope, capacity }) =>
    // A mouse has a battery too: of devices that are not the machine the scope says so.
    type === 'Battery' && scope !== 'Device' && status === 'Discharging' ? [Number(capacity)] : [],
  );
  const known = charges.filter((charge) => Number.isFinite(charge));
  return known.length === 0 ? null : Math.min(...known);
}

async function supplyIn(folder: string) {
  const read = (name: string): Promise<string> =>
    readFile(join(folder, name), 'utf8').then(
      (text) => text.trim(),
      () => '',
    );
  const [type, online, status, scope, capacity] = await Promise.all(
    ['type', 'online', 'status', 'scope', 'capacity'].map(read),
  );
  return { type, online, status, scope, capacity };
}
