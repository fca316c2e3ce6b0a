import type { Effect, Handler } from './handling.js';
import {
  type InPlace,
  isOpenPlace,
  mayInPlace,
  OPEN_PLACE,
  opensByItself,
  type PlaceTerms,
} from './place-terms.js';

/** Terms of our own; the cases are common practice, no source. */
const inside: Handler = {
  address: 'a@house.example',
  outside: false,
  groups: ['Masters'],
  department: 'Bridge',
};
const guest: Handler = { address: 'g@elsewhere.example', outside: true };
const plain: InPlace = {
  strange: false,
  kind: 'office',
  byLink: false,
  signedIn: true,
  reachesOutside: false,
};
const noCopies: PlaceTerms = { ...OPEN_PLACE, copies: { kind: 'none', except: null, kinds: ['picture'] } };

const codeOf = (effect: Effect, person: Handler, item: Partial<InPlace>, terms: Partial<PlaceTerms>) =>
  mayInPlace(effect, person, { ...plain, ...item }, { ...OPEN_PLACE, ...terms }).clause.code;

describe('what a labelled place lets people do', () => {
  it.each<[string, Effect, Handler, Partial<InPlace>, Partial<PlaceTerms>, string]>([
    ['opens for anybody without terms', 'read', guest, { byLink: true, signedIn: false }, {}, 'anyone'],
    ['keeps copies from people inside', 'make-another', inside, {}, noCopies, 'place-copies'],
    ['keeps pieces from people inside', 'take-out', inside, {}, noCopies, 'place-copies'],
    ['lets them read, change and share', 'change', inside, {}, noCopies, 'anyone'],
    ['lets kinds out that are named', 'make-another', guest, { kind: 'picture' }, noCopies, 'anyone'],
    [
      'lets people take copies who are named',
      'make-another',
      inside,
      {},
      {
        copies: {
          kind: 'none',
          kinds: [],
          except: { with: [{ kind: 'group', group: 'masters' }], without: [] },
        },
      },
      'anyone',
    ],
    [
      'and nobody else',
      'make-another',
      guest,
      {},
      {
        copies: {
          kind: 'none',
          kinds: [],
          except: { with: [{ kind: 'group', group: 'masters' }], without: [] },
        },
      },
      'place-copies',
    ],
    ['closes to people outside', 'read', guest, {}, { outside: 'nobody' }, 'place-outside'],
    [
      'lets nothing be opened for them',
      'pass-on',
      inside,
      { reachesOutside: true },
      { outside: 'nobody' },
      'place-outside',
    ],
    ['lets it be opened inside', 'pass-on', inside, {}, { outside: 'nobody' }, 'anyone'],
    ['opens for named people outside', 'read', guest, {}, { outside: 'named' }, 'anyone'],
    ['closes links to people outside', 'read', guest, { byLink: true }, { outside: 'named' }, 'place-link'],
    [
      'lets no such link be made',
      'pass-on',
      inside,
      { byLink: true, reachesOutside: true },
      { outside: 'named' },
      'place-link',
    ],
    [
      'asks whoever holds a link to sign in',
      'read',
      guest,
      { byLink: true, signedIn: false },
      { signIn: true },
      'place-sign-in',
    ],
    ['opens once they did', 'read', guest, { byLink: true }, { signIn: true }, 'anyone'],
    ['closes to strange machines', 'read', inside, { strange: true }, { strange: 'closed' }, 'place-machine'],
    ['lets strange machines look', 'read', inside, { strange: true }, { strange: 'look-only' }, 'anyone'],
    ['and no more', 'change', inside, { strange: true }, { strange: 'look-only' }, 'place-machine'],
    ['closes to foreign networks', 'read', inside, { foreign: true }, { network: 'closed' }, 'place-network'],
    ['lets foreign networks look', 'read', inside, { foreign: true }, { network: 'look-only' }, 'anyone'],
    ['and change nothing', 'change', inside, { foreign: true }, { network: 'look-only' }, 'place-network'],
    ['asks nothing of networks unless told', 'change', inside, { foreign: true }, {}, 'anyone'],
    ['takes an unknown network for its own', 'change', inside, {}, { network: 'closed' }, 'anyone'],
  ])('%s', (_what, effect, person, item, terms, code) =>
    expect(codeOf(effect, person, item, terms)).toBe(code),
  );

  it('is open only where it asks nothing', () => {
    expect(isOpenPlace(OPEN_PLACE)).toBe(true);
    expect(isOpenPlace(noCopies)).toBe(false);
    expect(isOpenPlace({ ...OPEN_PLACE, network: 'look-only' })).toBe(false);
    expect(isOpenPlace({ ...OPEN_PLACE, network: 'as-any' })).toBe(true);
    expect(opensByItself({ ...OPEN_PLACE, entry: 'owner-adds' })).toBe(false);
  });
});
