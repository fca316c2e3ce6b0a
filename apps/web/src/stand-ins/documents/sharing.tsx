import type { DocumentDetail, PersonView } from '@lantern/contracts';
import { useShareActs } from '../../data/documents-desk';
import { usePeople } from '../../data/mail';
import { Told } from '../told';
import { languageOf } from '../../wording/told';

export function SharedWith({
  shared,
  readOnly,
  onChange,
}: {
  readonly shared: string;
  readonly readOnly: boolean;
  readonly onChange: (shared: string) => void;
}) {
  return (
    <div>
      <label className="mb-1 block text-[12.5px] font-semibold text-ink-2" htmlFor="shared">
        Shared with (addresses)
      </label>
      <input
        id="shared"
        className="field w-full"
        list="known-people"
        readOnly={readOnly}
        value={shared}
        onChange={(event) => onChange(event.target.value)}
      />
      <KnownPeople />
    </div>
  );
}

const SHARE_WORDS = {
  open: 'shared',
  waiting: 'waiting',
  refused: 'not shared',
  withdrawn: 'no longer shared',
} as const;

/** People it was to be shared with and is not, each with what they are told. */
export function ShareStates({
  person,
  document,
}: {
  readonly person: PersonView;
  readonly document: DocumentDetail;
}) {
  const acts = useShareActs(person.id);
  return (
    <>
      {document.shares.map(({ id, address, state, notice, reported }) => (
        <div key={id}>
          <p className="text-[12.5px]">
            {address}: <b>{SHARE_WORDS[state]}</b>
          </p>
          {notice && (
            <Told
              id={id}
              notice={notice}
              about="share"
              language={languageOf(person.language)}
              acts={acts}
              reported={reported}
            />
          )}
        </div>
      ))}
    </>
  );
}

function KnownPeople() {
  const people = usePeople();
  return (
    <datalist id="known-people">
      {(people.data ?? []).map(({ id, address, name }) => (
        <option key={id} value={address}>
          {name}
        </option>
      ))}
    </datalist>
  );
}
