import type { DrivePlaceTerms } from '@lantern/contracts';
import type { PlaceLabelPreview } from '@lantern/contracts/discovery';
import type { CopyTerms, Entry, Finder, OutsideTerm, PlaceTerms, StrangeMachine } from '@lantern/core/labels';
import { audienceWords } from './audience';
import { FILE_KIND_WORDS } from './terms';

export const FINDER_WORDS: Readonly<Record<Finder, string>> = {
  inside: 'everyone inside',
  'its-people': 'only people who were let in',
};
export const ENTRY_WORDS: Readonly<Record<Entry, string>> = {
  'by-themselves': 'everyone inside, without asking',
  'owner-adds': 'only people whom its owner lets in',
};
export const OUTSIDE_WORDS: Readonly<Record<OutsideTerm, string>> = {
  'named-and-links': 'named people, and anybody who has a link',
  named: 'named people only; links stop working',
  nobody: 'nobody',
};
export const STRANGE_WORDS: Readonly<Record<StrangeMachine, string>> = {
  'as-any': 'use it as on any other machine',
  'look-only': 'view it only',
  closed: 'not open it',
};

const FOUND_SENTENCES: Readonly<Record<Finder, string>> = {
  inside: 'Everyone inside can find it.',
  'its-people': 'Only people who were let in can find it.',
};
const ENTRY_SENTENCES: Readonly<Record<Entry, string>> = {
  'by-themselves': 'Everyone inside can come in without asking.',
  'owner-adds': 'Only its owner can let people in.',
};
const OUTSIDE_SENTENCES: Readonly<Record<OutsideTerm, string>> = {
  'named-and-links': 'People outside can open it if somebody named them or gave them a link.',
  named: 'People outside can open it only if somebody named them. Links that anybody can open do not work.',
  nobody: 'Nobody outside can open it.',
};
const STRANGE_SENTENCES: Readonly<Record<StrangeMachine, string>> = {
  'as-any': 'It can be used on machines that nobody manages as on any other.',
  'look-only': 'On machines that nobody manages it can only be viewed.',
  closed: 'It cannot be opened on machines that nobody manages.',
};

const NETWORK_SENTENCES: Readonly<Record<StrangeMachine, string>> = {
  'as-any': 'It can be used on any network.',
  'look-only': 'On untrusted networks it can only be viewed.',
  closed: 'It cannot be opened on untrusted networks.',
};

const kindsOf = (kinds: readonly string[]): string =>
  kinds.map((kind) => FILE_KIND_WORDS[kind as keyof typeof FILE_KIND_WORDS] ?? kind).join(', ');

/** Who may take copies out of a place. */
function copySentence(copies: CopyTerms): string {
  if (copies.kind === 'free') return 'Everybody who can open it may take copies.';
  const except = copies.except ? `except ${audienceWords(copies.except)}` : 'not even its owner';
  const kinds = copies.kinds.length > 0 ? ` Free for everybody: ${kindsOf(copies.kinds)}.` : '';
  return `Nobody may take copies, ${except}.${kinds}`;
}

/** What a label asks of a place, as sentences. */
export function placeTermsWords(terms: PlaceTerms): string[] {
  return [
    FOUND_SENTENCES[terms.found],
    ENTRY_SENTENCES[terms.entry],
    OUTSIDE_SENTENCES[terms.outside],
    ...(terms.signIn && terms.outside !== 'nobody' ? ['People with a link must sign in.'] : []),
    STRANGE_SENTENCES[terms.strange],
    NETWORK_SENTENCES[terms.network ?? 'as-any'],
    copySentence(terms.copies),
  ];
}

/** What a label on a place ends of what was opened before. */
export function endsWords({ links, people, closesInside, takers }: PlaceLabelPreview): string[] {
  return [
    ...(people.length > 0 ? [`${people.join(', ')} can no longer come in.`] : []),
    ...(closesInside ? ['People inside who were not let in can no longer come in.'] : []),
    ...(links > 0
      ? [
          links === 1
            ? '1 link or share of a file stops working.'
            : `${links} links and shares of files stop working.`,
        ]
      : []),
    ...(takers.length > 0 ? [`${takers.join(', ')} took copies in the last 30 days and no longer can.`] : []),
  ];
}

/** What a place asks, for whoever is about to work in it; each sentence says whom to ask where that helps. */
export function drivePlaceWords(terms: DrivePlaceTerms, owner: string): string[] {
  const { strange, network } = terms;
  return [
    ...(terms.noCopies
      ? [
          `No copies from here: nobody may download, print, sync or save elsewhere${terms.copyKinds.length > 0 ? `, except ${kindsOf(terms.copyKinds)}` : ''}. Ask ${owner} if you need one. Renaming and editing work.`,
        ]
      : []),
    ...(terms.outside === 'nobody' ? ['Nobody outside can open anything here.'] : []),
    ...(terms.outside === 'named'
      ? [
          'People outside can open things here only if somebody named them. Links that anybody can open do not work.',
        ]
      : []),
    ...(terms.signIn && terms.outside !== 'nobody' ? ['People with a link must sign in.'] : []),
    ...(strange === 'closed' ? ['It can be opened only on machines of the organisation.'] : []),
    ...(strange === 'look-only'
      ? ['On machines that are not the organisation’s you can only view things.']
      : []),
    ...(network === 'closed' ? ['It can be opened only on trusted networks.'] : []),
    ...(network === 'look-only' ? ['On untrusted networks you can only view things.'] : []),
  ];
}
