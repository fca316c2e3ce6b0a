import { type DataSource, Not } from 'typeorm';
import { AppError } from '../platform/errors/app-error.js';
import { DocumentPatternEntity } from '../inspection/sources/document-pattern.entity.js';
import { OwnPatternEntity } from './own-pattern.entity.js';
import { RecordSourceEntity } from '../inspection/sources/record-source.entity.js';

/** Refuses a name that another own pattern of any sort has; `except` is the one that is being saved. */
export async function demandFreeName(database: DataSource, name: string, except: string): Promise<void> {
  const where = { name: name.trim(), ...(except === '' ? {} : { id: Not(except) }) };
  for (const entity of [OwnPatternEntity, RecordSourceEntity, DocumentPatternEntity])
    if (await database.getRepository<{ id: string; name: string }>(entity).existsBy(where))
      throw new AppError('name-taken', `Another pattern has the name "${name.trim()}".`);
}
