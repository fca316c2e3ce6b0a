import { type NearestPattern } from '@lantern/core/detection';
import { assertNever } from '@lantern/core/shared';

/** What a pattern missed to find a stretch of text, as half a sentence. */
export function missingWords(near: NearestPattern): string {
  switch (near.missing) {
    case 'certainty':
      return near.certainty < 20
        ? `it fits, but is certain to ${near.certainty} only; from 20 on it is reported`
        : `it fits and is certain to ${near.certainty}; a better explained pattern may stand in its place`;
    case 'check':
      return 'it has the shape, and its check digits or what else it must satisfy do not hold';
    case 'structure':
      return 'it has the shape, and a date, range or list inside it does not fit';
    case 'boundary':
      return 'it would fit by itself, but touches other letters or digits';
    case 'length':
      return `${near.off} ${near.off === 1 ? 'letter or digit' : 'letters or digits'} too many or too few`;
    default:
      return assertNever(near.missing);
  }
}
