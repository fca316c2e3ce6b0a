import { EVERYBODY } from '@lantern/core/directory';
import {
  ENTRIES,
  FINDERS,
  OPEN_PLACE,
  OUTSIDE_TERMS,
  type PlaceTerms,
  STRANGE_MACHINES,
} from '@lantern/core/labels';
import { FILE_KINDS } from '@lantern/core/movement';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { SelectField } from '../../../ui/field';
import {
  ENTRY_WORDS,
  FINDER_WORDS,
  OUTSIDE_WORDS,
  placeTermsWords,
  STRANGE_WORDS,
} from '../../../wording/place-terms';
import { FILE_KIND_WORDS } from '../../../wording/terms';
import { toggled } from '../edit';

interface Props {
  readonly terms: PlaceTerms | null;
  readonly readOnly: boolean;
  readonly onChange: (terms: PlaceTerms | null) => void;
}

/** What a place that carries the label lets people do, question by question. */
export function PlaceTermsEditor({ terms, readOnly, onChange }: Props) {
  if (readOnly)
    return (
      <ul className="list-disc pl-5">
        {terms ? (
          placeTermsWords(terms).map((each) => <li key={each}>{each}</li>)
        ) : (
          <li>It asks nothing of places.</li>
        )}
      </ul>
    );
  const asks = terms !== null;
  return (
    <>
      <label className="flex items-center gap-1.5">
        <input type="checkbox" checked={asks} onChange={() => onChange(asks ? null : OPEN_PLACE)} />
        It limits what may happen in a place that carries it
      </label>
      {terms && (
        <div className="mt-2 grid grid-cols-2 gap-x-5 gap-y-3">
          <SelectField
            label="Who can find the place"
            value={terms.found}
            options={FINDERS.map((value) => ({ value, label: FINDER_WORDS[value] }))}
            onChange={(found) => onChange({ ...terms, found })}
          />
          <SelectField
            label="Who can come in"
            value={terms.entry}
            options={ENTRIES.map((value) => ({ value, label: ENTRY_WORDS[value] }))}
            onChange={(entry) => onChange({ ...terms, entry })}
          />
          <SelectField
            label="Who outside can open it"
            value={terms.outside}
            options={OUTSIDE_TERMS.map((value) => ({ value, label: OUTSIDE_WORDS[value] }))}
            onChange={(outside) => onChange({ ...terms, outside })}
          />
          <SelectField
            label="What people can do on machines that nobody manages"
            value={terms.strange}
            options={STRANGE_MACHINES.map((value) => ({ value, label: STRANGE_WORDS[value] }))}
            onChange={(strange) => onChange({ ...terms, strange })}
          />
          <SelectField
            label="What people can do on untrusted networks"
            value={terms.network ?? 'as-any'}
            options={STRANGE_MACHINES.map((value) => ({ value, label: STRANGE_WORDS[value] }))}
            onChange={(network) => onChange({ ...terms, network })}
          />
          <label className="col-span-2 flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={terms.signIn}
              disabled={terms.outside === 'nobody'}
              onChange={() => onChange({ ...terms, signIn: !terms.signIn })}
            />
            People with a link must sign in before it opens
          </label>
          <div className="col-span-2">
            <Copies terms={terms} onChange={onChange} />
          </div>
        </div>
      )}
    </>
  );
}

/** No copies from here, with its exceptions. */
function Copies({
  terms,
  onChange,
}: {
  readonly terms: PlaceTerms;
  readonly onChange: (terms: PlaceTerms) => void;
}) {
  const { copies } = terms;
  const set = (next: PlaceTerms['copies']) => onChange({ ...terms, copies: next });
  return (
    <fieldset className="border-l-2 border-rule-strong pl-3">
      <legend className="sr-only">Copies</legend>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={copies.kind === 'none'}
          onChange={() =>
            set(copies.kind === 'none' ? { kind: 'free' } : { kind: 'none', except: null, kinds: [] })
          }
        />
        No copies from here: nobody may download, print, sync or save elsewhere, not even its owner
      </label>
      {copies.kind === 'none' && (
        <>
          <p className="mt-2 mb-1 text-[12.5px] font-semibold text-ink-2">
            Kinds of file that may be copied anyway
          </p>
          <div className="flex flex-wrap gap-x-4 gap-y-1">
            {FILE_KINDS.map((kind) => (
              <label key={kind} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={copies.kinds.includes(kind)}
                  onChange={() => set({ ...copies, kinds: toggled(copies.kinds, kind) })}
                />
                {FILE_KIND_WORDS[kind]}
              </label>
            ))}
          </div>
          <label className="mt-2 flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={copies.except !== null}
              onChange={() => set({ ...copies, except: copies.except ? null : EVERYBODY })}
            />
            Some people may take copies anyway
          </label>
          {copies.except && (
            <div className="mt-2">
              <AudienceEditor audience={copies.except} onChange={(except) => set({ ...copies, except })} />
            </div>
          )}
        </>
      )}
    </fieldset>
  );
}
