import type { PersonView } from '@lantern/contracts';
import type { Played } from './stand-in-frame';

export function playedOf({ id, name, department, port }: PersonView): Played {
  return { id, name, from: `${department}, ${port}` };
}
