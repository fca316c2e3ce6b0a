import type { LabelsView } from '@lantern/contracts';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { saveFile } from '../../data/save-file';
import { useImportLabels, useLabelReview, useLabels, useLabelText, useSignOff } from '../../data/labels';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextArea } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CARRIER_WORDS, labelProblemSentence, offerSentence } from '../../wording/labels';
import { STATE_WORDS } from '../../wording/terms';
import { exactTime, shortTime } from '../../wording/times';
import { LabelPlaces } from './label-places';
import { Flag } from './parts/flag';

/** What publishing the labels changes for people, what the business says, and the set as a file. */
export function LabelReviewPage() {
  const review = useLabelReview();
  const labels = useLabels();
  const [all, setAll] = useState(false);
  if (review.isPending || labels.isPending) return <Loading what="the labels" />;
  if (review.isError) return <Notice look="stop">{errorSentence(review.error)}</Notice>;
  const { people, disagreements, problems, signOffs, fingerprint } = review.data;
  const named = new Set(people.map(({ address }) => address));
  const groups = groupPeople(people);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <LabelPlaces />
      <div className="grid grid-cols-[minmax(0,1fr)_330px] gap-8">
        <div>
          <h1 className="mb-2">Who is affected by publishing these labels</h1>
          {people.length === 0 ? (
            <p className="text-ink-2">
              No one. Everyone can choose the same labels on the same terms as before.
            </p>
          ) : (
            <>
              <p className="mb-2">
                {named.size} {named.size === 1 ? 'person is' : 'people are'} told by mail when it is
                published.
              </p>
              <ul>
                {groups.slice(0, all ? undefined : 12).map((group) => (
                  <li key={group.key} className="border-b border-rule py-2">
                    <p>
                      <b>
                        {group.people.length} {group.people.length === 1 ? 'person' : 'people'}
                      </b>
                      , {CARRIER_WORDS[group.carrier]},{' '}
                      {group.from === null ? 'at once' : `from ${group.from}`}:{' '}
                      {group.gains.length > 0 && <>can choose {group.gains.join(', ')}. </>}
                      {group.loses.length > 0 && <>can no longer choose {group.loses.join(', ')}. </>}
                      {group.otherTerms && group.gains.length + group.loses.length === 0 && (
                        <>have different terms. </>
                      )}
                    </p>
                    <p className="text-[13px] text-ink-2">
                      {group.telling ? `Message: “${group.telling}”` : 'No message is sent.'}
                    </p>
                    <details className="text-[12.5px]">
                      <summary className="cursor-pointer text-press">Who</summary>
                      {group.people.join(', ')}
                    </details>
                  </li>
                ))}
              </ul>
              {groups.length > 12 && !all && (
                <Button onClick={() => setAll(true)}>All {groups.length} groups</Button>
              )}
            </>
          )}
          {disagreements.length > 0 && (
            <section className="mt-4" aria-label="Two offers for the same people">
              <h2 className="mb-1 !text-[15px] !text-ink">Who is included in two offers that disagree?</h2>
              {disagreements.map((each) => (
                <p
                  key={`${each.first}${each.second}${each.carrier}`}
                  className="bg-sunk px-2 py-1 text-[13px]"
                >
                  For {CARRIER_WORDS[each.carrier]}, {each.people.length} people are included in “{each.first}
                  ” and “{each.second}”. The first applies.{' '}
                  <span className="text-ink-2">
                    {each.people.slice(0, 8).join(', ')}
                    {each.people.length > 8 ? ' …' : ''}
                  </span>
                </p>
              ))}
            </section>
          )}
          {problems.length > 0 && (
            <section className="mt-4" aria-label="Checks">
              <h2 className="mb-1 !text-[15px] !text-ink">Results of the checks</h2>
              <ul className="text-[13px]">
                {problems.map((problem) => (
                  <li
                    key={`${problem.id}${problem.code}${problem.path.join('.')}`}
                    className="border-b border-dotted border-rule py-0.5"
                  >
                    <Link className="part" to={placeOf(problem.of, problem.id)}>
                      {problem.name || 'one without a name'}
                    </Link>
                    : {labelProblemSentence(problem)}
                  </li>
                ))}
              </ul>
            </section>
          )}
          <WholeSet labels={labels.data} />
        </div>
        <aside className="border-l border-rule pl-6">
          <SignOff fingerprint={fingerprint} />
          <h2 className="mt-5 mb-1">Sign-off by the business</h2>
          {signOffs.length === 0 && <p className="text-[13px] text-ink-2">No sign-off yet.</p>}
          <ol className="text-[13px]">
            {signOffs.map((each) => (
              <li
                key={each.at}
                className={`border-b border-dotted border-rule py-1 ${each.current ? '' : 'text-ink-2'}`}
              >
                <b>{each.agrees ? 'Agrees' : 'Does not agree'}</b>, {each.by},{' '}
                <span title={exactTime(each.at)}>{shortTime(each.at, new Date())}</span>
                {!each.current && ', about an earlier draft'}
                {each.words && <p>“{each.words}”</p>}
              </li>
            ))}
          </ol>
          <AsFile />
        </aside>
      </div>
    </div>
  );
}

/** Everything that people will read, in one piece. */
function WholeSet({ labels }: { readonly labels: LabelsView | undefined }) {
  const names = new Map((labels?.labels ?? []).map(({ label }) => [String(label.id), label.name]));
  return (
    <section className="mt-4" aria-label="Resulting set of labels">
      <h2 className="mb-1 !text-[15px] !text-ink">Resulting set of labels</h2>
      {[...(labels?.labels ?? [])]
        .sort((left, right) => left.label.rank - right.label.rank)
        .map(({ label }) => (
          <p key={label.id} className="border-b border-dotted border-rule py-1 text-[13px]">
            <span className="mr-2 font-head text-ink-2">{label.rank}</span>
            <Flag colour={label.colour} name={label.name} />{' '}
            <span className="text-ink-2">{label.choosing[0]?.when}</span>
          </p>
        ))}
      {(labels?.offers ?? []).map(({ offer }) => (
        <p key={offer.id} className="border-b border-dotted border-rule py-1 text-[13px]">
          <b>{offer.name}.</b> {offerSentence(offer, names)}
        </p>
      ))}
    </section>
  );
}

const placeOf = (of: 'label' | 'offer' | 'automatic', id: string): string =>
  of === 'label' ? `/labels/${id}` : `/labels/${of === 'offer' ? 'offers' : 'automatic'}?open=${id}`;

type Changed = NonNullable<ReturnType<typeof useLabelReview>['data']>['people'][number];

/** People for whom the same changes, together. */
function groupPeople(people: readonly Changed[]) {
  const groups = new Map<string, Omit<Changed, 'name' | 'address'> & { key: string; people: string[] }>();
  for (const { name, address: _address, ...rest } of people) {
    const key = JSON.stringify(rest);
    const known = groups.get(key);
    if (known) known.people.push(name);
    else groups.set(key, { ...rest, key, people: [name] });
  }
  return [...groups.values()].sort((left, right) => right.people.length - left.people.length);
}

function SignOff({ fingerprint }: { readonly fingerprint: string }) {
  const sign = useSignOff();
  const may = useMay('labels.sign');
  const [words, setWords] = useState('');
  const say = (agrees: boolean) =>
    sign.mutate(
      { agrees, words, fingerprint },
      { onSuccess: () => (toast.success('The sign-off is recorded'), setWords('')) },
    );
  const refusal = may ? undefined : 'Your account may not sign off';
  return (
    <section aria-label="Sign off">
      <h2 className="mb-1">Sign off for the business</h2>
      <TextArea
        label="Words"
        rows={3}
        maxLength={4000}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {sign.isError && <Notice look="stop">{errorSentence(sign.error)}</Notice>}
      <p className="mt-2 flex gap-2">
        <Button look="main" refusal={refusal} onClick={() => say(true)}>
          Approve
        </Button>
        <Button
          look="stop"
          refusal={refusal ?? (words.trim() === '' ? 'Say what is wrong first' : undefined)}
          onClick={() => say(false)}
        >
          Reject
        </Button>
      </p>
    </section>
  );
}

/** The whole set out and in as one YAML file. */
function AsFile() {
  const text = useLabelText();
  const take = useImportLabels();
  const may = useMay('labels.write');
  const [given, setGiven] = useState<string | null>(null);
  const download = () =>
    saveFile(new Blob([text.data?.text ?? ''], { type: 'application/yaml' }), 'labels.yaml');
  const look = async (file: File | undefined) => {
    if (!file) return;
    const content = await file.text();
    take.mutate(
      { text: content, onlyLook: true },
      { onSuccess: ({ faults }) => setGiven(faults.length === 0 ? content : null) },
    );
  };
  return (
    <section aria-label="As a file" className="mt-5">
      <h2 className="mb-1">Labels as a file</h2>
      <p className="flex flex-wrap gap-2">
        <Button onClick={download}>Save labels.yaml</Button>
        <label
          className={`inline-flex cursor-pointer items-center rounded border border-rule-strong bg-sheet px-2.5 py-1 focus-within:outline-2 ${may ? '' : 'opacity-60'}`}
        >
          Import a file
          <input
            type="file"
            accept=".yaml,.yml"
            className="sr-only"
            disabled={!may}
            onChange={(event) => void look(event.target.files?.[0])}
          />
        </label>
      </p>
      {take.isError && <Notice look="stop">{errorSentence(take.error)}</Notice>}
      {take.data && take.data.faults.length > 0 && (
        <Notice look="stop">
          Nothing was imported.
          <ul className="list-disc pl-4">
            {take.data.faults.map((fault) => (
              <li key={`${fault.line ?? ''}${fault.message}`}>
                {fault.line === null ? '' : `Line ${fault.line}: `}
                {fault.message}
              </li>
            ))}
          </ul>
        </Notice>
      )}
      {given !== null && take.data?.faults.length === 0 && (
        <Notice>
          {take.data.changes.length === 0 && 'The file is the same as the drafts.'}
          <ul>
            {take.data.changes.map(({ kind, name, state }) => (
              <li key={`${kind}${name}`}>
                {name}: {STATE_WORDS[state]}
              </li>
            ))}
          </ul>
          {take.data.changes.length > 0 && (
            <Button
              look="main"
              className="mt-1"
              onClick={() =>
                take.mutate(
                  { text: given, onlyLook: false },
                  { onSuccess: () => (setGiven(null), toast.success('The file was imported as drafts')) },
                )
              }
            >
              Replace the drafts
            </Button>
          )}
        </Notice>
      )}
    </section>
  );
}
