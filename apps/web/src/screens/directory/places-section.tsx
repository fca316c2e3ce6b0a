import { useRef } from 'react';
import { toast } from 'sonner';
import { useApplyPlaces, useComparePlaces, usePlaceList } from '../../data/machines';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { PLACE_REFUSAL_WORDS } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';

/** Places that hold files and that rules can name. */
export function Places() {
  const places = usePlaceList();
  const compare = useComparePlaces();
  const apply = useApplyPlaces();
  const input = useRef<HTMLInputElement>(null);
  const found = compare.data;
  return (
    <section aria-labelledby="places" className="mt-6">
      <h2 id="places" className="mb-1">
        Places
      </h2>
      <p className="mb-2 max-w-3xl text-ink-2">
        Rules and policies can name places. Import a CSV or LDIF file with names, descriptions, owners and
        members. An import adds and changes places; it never removes one, because files are stored there.
      </p>
      <div className="mb-2">
        <input
          ref={input}
          type="file"
          className="sr-only"
          aria-label="File of places"
          accept=".csv,.tsv,.txt,.ldif,.ldf,text/csv"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) compare.mutate(file);
            event.target.value = '';
          }}
        />
        <Button onClick={() => input.current?.click()}>Choose a file of places</Button>
      </div>
      {compare.isPending && <Loading what="the file" />}
      {compare.isError && <Notice look="stop">{errorSentence(compare.error)}</Notice>}
      {found && (
        <div role="region" aria-label="Comparison of places" className="mb-3 max-w-4xl bg-sunk px-3 py-3">
          <p role="status">
            {found.counts.added} to add, {found.counts.changed} to change, {found.counts.unchanged} unchanged.
          </p>
          <p className="text-ink-2">
            {[...found.added, ...found.changed.map(({ after }) => after)]
              .slice(0, 10)
              .map(({ name }) => name)
              .join(', ')}
          </p>
          {found.ignored.length > 0 && (
            <p className="text-ink-2">Columns that are not read: {found.ignored.join(', ')}</p>
          )}
          <ul className="list-disc pl-5">
            {found.refused.slice(0, 10).map(({ line, code, value }) => (
              <li key={line}>
                Row {line}: {PLACE_REFUSAL_WORDS[code]}
                {value && `: ${value}`}
              </li>
            ))}
          </ul>
          {apply.isError && <Notice look="stop">{errorSentence(apply.error)}</Notice>}
          <span className="mt-2 flex gap-2">
            <Button
              look="main"
              refusal={
                found.counts.added + found.counts.changed === 0 ? 'The file changes nothing' : undefined
              }
              reasonIsShown
              onClick={() =>
                apply.mutate(found.id, { onSuccess: () => (toast('Places saved.'), compare.reset()) })
              }
            >
              Apply changes
            </Button>
            <Button onClick={() => compare.reset()}>Cancel</Button>
          </span>
        </div>
      )}
      {places.isPending && <Loading what="the places" />}
      {places.isError && <Notice look="stop">{errorSentence(places.error)}</Notice>}
      {places.data?.length === 0 && <p className="text-ink-2">No places yet.</p>}
      {places.data && places.data.length > 0 && (
        <table className="w-full text-[13px]">
          <thead>
            <tr className="text-left text-ink-2">
              <th className="py-1 font-normal">name</th>
              <th className="font-normal">description</th>
              <th className="font-normal">owner</th>
              <th className="font-normal">members</th>
            </tr>
          </thead>
          <tbody>
            {places.data.map(({ name, about, owner, members }) => (
              <tr key={name} className="border-t border-rule align-baseline">
                <td className="py-1 pr-3 font-semibold">{name}</td>
                <td className="pr-3">{about}</td>
                <td className="pr-3">{owner}</td>
                <td className="pr-3">{members.length}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
