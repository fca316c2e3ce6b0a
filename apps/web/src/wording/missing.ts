import { type NearestPattern } from '@lantern/core/detection';
import { assertNever } from '@lantern/core/shared';

/** What a pattern missed to find a stretch of text, as half a sentence. */
export function missingWords(near: NearestPattern): string {
  switch (near.missing) {
    case 'certainty':
      return near.certainty < 20
        ? `it matches, but its certainty is only ${near.certainty}. Findings are reported from 20.`
        : `it matches with a certainty of ${near.certainty}. A pattern that explains it better may be reported instead.`;
    case 'check':
      return 'it has the format, but its check digits or other conditions are not valid';
    case 'structure':
      return 'it has the format, but a date, range or list inside it is not valid';
    case 'boundary':
      return 'it would match on its own, but touches other letters or digits';
    case 'length':
      return `${near.off} ${near.off === 1 ? 'letter or digit' : 'letters or digits'} too many or too few`;
    default:
      return assertNever(near.missing);
  }
}
