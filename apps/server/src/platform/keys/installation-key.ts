import type { DataSource } from 'typeorm';
import { DataKeyEntity } from './data-key.entity.js';
import { INSTALLATION, type KeyRing } from './key-ring.js';

/**
 * Reads the data key of the installation, or makes it at the first start. One from before there were data keys goes on
 * with the key that its values were sealed with. Throws where the master key is not the one of this database.
 */
export async function openInstallationKey(database: DataSource, keys: KeyRing): Promise<void> {
  const { manager } = database;
  const kept = await manager.findOneBy(DataKeyEntity, { scope: INSTALLATION });
  if (kept) {
    keys.useInstallation(kept);
    return;
  }
  const [{ n: accounts } = { n: 0 }]: { n: string | number }[] = await manager.query(
    'SELECT COUNT(*) AS n FROM account',
  );
  const made =
    Number(accounts) > 0 ? keys.wrap(INSTALLATION, keys.oldest()) : keys.fresh(INSTALLATION).wrapped;
  await manager.insert(DataKeyEntity, { ...made });
  keys.useInstallation(made);
}
