import type { IncidentDetail } from '@lantern/contracts';
import { asSpecimen, patternsShown } from './as-specimen';

type Pieces = IncidentDetail['parts'][number]['excerpts'][number]['pieces'];
const found = (text: string, pattern: string) => ({ text, pattern, certainty: 90, evidence: [] });
const incident = (...excerpts: Pieces[]): Pick<IncidentDetail, 'parts'> & { readonly name: string } => ({
  name: 'Incident 7',
  parts: [
    {
      role: 'body',
      path: ['body'],
      unreadable: null,
      findings: 1,
      notShown: 0,
      excerpts: excerpts.map((pieces, line) => ({ line, pieces })),
    },
  ],
});
const CARD = [{ text: 'card ' }, found('4111 1111', 'card'), { text: ' and ' }, found('AB12', 'code')];

describe('asSpecimen', () => {
  it('takes what stands around the values of one pattern, and those values', () => {
    const shown = incident(CARD, [{ text: 'code ' }, found('CD34', 'code')], [found('4111 1111', 'card')]);
    expect(asSpecimen(shown, 'card', true)).toEqual({
      name: 'Incident 7',
      text: 'card 4111 1111 and AB12\n\n4111 1111',
      expected: [{ pattern: 'card', values: ['4111 1111'] }],
    });
    expect(patternsShown(shown.parts)).toEqual(['card', 'code']);
  });

  it('expects nothing where the values are false', () => {
    expect(asSpecimen(incident(CARD), 'card', false).expected).toEqual([{ pattern: 'card', values: [] }]);
  });

  it('cuts no excerpt in two', () => {
    const long = [{ text: 'x'.repeat(19_990) }, found('4111 1111 1111', 'card')];
    const { text, expected } = asSpecimen(incident(CARD, long), 'card', true);
    expect(text).toBe('card 4111 1111 and AB12');
    expect(expected[0]?.values).toEqual(['4111 1111']);
  });
});
