import { READY_PATTERNS } from '@lantern/core/detection';
import { newLabel } from '@lantern/core/labels';
import { type Channel, CHANNELS } from '@lantern/core/movement';
import { type Pack, packDraft, PACKS, patternsFor } from '@lantern/core/policy';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { useCreatePolicy, useNames, usePolicies, useSaveText, useTexts } from '../../data/policies';
import { useLabels, useSaveLabel } from '../../data/labels';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { countryName } from '../../wording/countries';
import { errorSentence } from '../../wording/errors';
import { policySentences, ruleSentence } from '../../wording/sentence';
import { CHANNEL_WORDS } from '../../wording/terms';
import { ChooseSeveral } from './clauses/choose-several';
import { PolicyPlaces } from '../../shared/policy-places';

const COUNTRIES = [...new Set(READY_PATTERNS.flatMap(({ countries }) => countries))].sort((left, right) =>
  countryName(left).localeCompare(countryName(right)),
);

/** First policies for a regulation or a standard, adapted on one page and put into the drafts. */
export function PacksPage() {
  const [search, setSearch] = useSearchParams();
  const pack = PACKS.find(({ id }) => id === search.get('pack')) ?? PACKS[0];
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <h1 className="mb-3">Starter packs</h1>
      <div className="grid grid-cols-[260px_minmax(0,1fr)] gap-8">
        <ul aria-label="Packs">
          {PACKS.map(({ id, name, about }) => (
            <li
              key={id}
              className={`border-b border-rule px-2 py-2 ${id === pack?.id ? 'bg-press-soft' : ''}`}
            >
              <button
                type="button"
                className="part text-left"
                aria-current={id === pack?.id}
                onClick={() => setSearch({ pack: id })}
              >
                {name}
              </button>
              <p className="text-[12.5px] text-ink-2">{about}</p>
            </li>
          ))}
        </ul>
        {pack && <Adapt key={pack.id} pack={pack} />}
      </div>
    </div>
  );
}

/** Choices beside what they lead to, as sentences; nothing is drafted before it is asked for. */
function Adapt({ pack }: { readonly pack: Pack }) {
  const [countries, setCountries] = useState<readonly string[]>([]);
  const [channels, setChannels] = useState<readonly Channel[]>(CHANNELS);
  const [noteFirst, setNoteFirst] = useState(true);
  const [labelled, setLabelled] = useState(true);
  const [find, setFind] = useState('');
  const names = useNames();
  const may = useMay('policies.write');
  const { put, problem, pending } = usePut();
  const draft = packDraft(pack, { countries, channels, noteFirst, newId: () => 'preview' });
  const shown = new Map([...names, ['preview', draft.text.name]]);
  const count = pack.rules.reduce((sum, rule) => sum + patternsFor(rule, pack, { countries }).length, 0);
  const offered = COUNTRIES.filter((code) =>
    countryName(code).toLowerCase().includes(find.trim().toLowerCase()),
  );
  return (
    <section aria-label={pack.name} className="flex max-w-4xl flex-col gap-3">
      <h2>{pack.name}</h2>
      <p className="text-[13px] text-ink-2">Made for: {pack.source}</p>
      {pack.byCountry && (
        <div>
          <TextField
            label="Countries whose identifiers are looked for"
            placeholder="Find a country"
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
          <div
            className="mt-1 max-h-32 overflow-auto border border-rule p-2"
            tabIndex={0}
            aria-label="Countries"
          >
            <ChooseSeveral
              label="The countries of your recipients and your own"
              options={offered.map((code) => ({ value: code, label: countryName(code) }))}
              chosen={countries}
              onChange={setCountries}
            />
          </div>
        </div>
      )}
      <ChooseSeveral
        label="Channels"
        options={CHANNELS.map((channel) => ({ value: channel, label: CHANNEL_WORDS[channel] }))}
        chosen={channels}
        onChange={setChannels}
      />
      <label className="flex min-h-6 items-center gap-2">
        <input type="checkbox" checked={noteFirst} onChange={(event) => setNoteFirst(event.target.checked)} />
        Start with a ceiling of note for everyone. Raise it when you have seen what it catches.
      </label>
      {pack.label && (
        <label className="flex min-h-6 items-center gap-2">
          <input type="checkbox" checked={labelled} onChange={(event) => setLabelled(event.target.checked)} />
          Also draft the label "{pack.label.name}" beside it: {pack.label.when}
        </label>
      )}
      <div className="border border-rule bg-sheet px-4 py-3 text-[13px]">
        <p className="mb-1 font-semibold">
          Result: {draft.policy.rules.length} rules over {count} patterns
        </p>
        <p className="text-ink-2">{policySentences(draft.policy, shown).join(' ')}</p>
        <ol className="mt-1 list-decimal pl-6">
          {draft.policy.rules.map((rule, index) => (
            <li key={index} className="line-clamp-3">
              <b>{rule.name}. </b>
              {ruleSentence(rule, shown)}
            </li>
          ))}
        </ol>
      </div>
      {problem && <Notice look="stop">{problem}</Notice>}
      <Button
        look="main"
        className="self-start"
        refusal={
          may
            ? channels.length === 0
              ? 'Choose a channel first'
              : undefined
            : 'Your account may not edit policies'
        }
        onClick={() =>
          !pending &&
          put(
            packDraft(pack, { countries, channels, noteFirst, newId: () => crypto.randomUUID() }),
            labelled ? pack.label : null,
          )
        }
      >
        Add to drafts
      </Button>
    </section>
  );
}

/** Saves text, policy and label as drafts and opens the policy. Names that are taken get a number behind them. */
function usePut() {
  const texts = useTexts();
  const policies = usePolicies();
  const saveText = useSaveText();
  const create = useCreatePolicy();
  const navigate = useNavigate();
  const labels = useLabels();
  const saveLabel = useSaveLabel('labels');
  const drafted = (labels.data?.labels ?? []).map(({ label }) => label);
  const put = ({ policy, text }: ReturnType<typeof packDraft>, label: Pack['label']) => {
    if (label) {
      const name = free(
        label.name,
        drafted.map((each) => each.name),
      );
      const choosing = [{ language: 'en', when: label.when, not: '' }];
      const value = { ...newLabel(drafted), name, choosing };
      saveLabel.mutate({ id: null, value, version: 1, note: 'From a starter pack' });
    }
    const { id: _id, ...words } = text;
    const name = free(
      text.name,
      (texts.data ?? []).map((view) => view.text.name),
    );
    saveText.mutate(
      { id: null, value: { ...words, name }, version: 1 },
      {
        onSuccess: (saved) => {
          const { id } = saved as { id: typeof text.id };
          const rules = policy.rules.map((rule) => ({
            ...rule,
            bands: rule.bands.map((band) => ({ ...band, text: band.text && id })),
          }));
          const called = free(
            policy.name,
            (policies.data ?? []).map((view) => view.policy.name),
          );
          create.mutate(
            { ...policy, name: called, rules },
            { onSuccess: (view) => void navigate(`/policies/${view.policy.id}`) },
          );
        },
      },
    );
  };
  const error = saveText.error ?? create.error ?? saveLabel.error;
  return { put, problem: error && errorSentence(error), pending: saveText.isPending || create.isPending };
}

/** A name nobody has yet. */
function free(name: string, taken: readonly string[]): string {
  if (!taken.includes(name)) return name;
  let number = 2;
  while (taken.includes(`${name} ${number}`)) number += 1;
  return `${name} ${number}`;
}
