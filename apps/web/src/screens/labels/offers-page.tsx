import type { OfferView } from '@lantern/contracts';
import { CARRIERS, COSTS, FOLLOWINGS, type Label, NEEDS, type Offer } from '@lantern/core/labels';
import { type LabelId } from '@lantern/core/shared';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useLabels, useRemoveLabel, useSaveLabel } from '../../data/labels';
import { useMay } from '../../data/session';
import { AudienceEditor } from '../../shared/audience/audience-editor';
import { Button } from '../../ui/button';
import { SelectField, TextArea, TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CARRIER_WORDS, COST_WORDS, FOLLOWING_WORDS, offerSentence } from '../../wording/labels';
import { STATE_WORDS } from '../../wording/terms';
import { moved, newOffer, toggled } from './edit';
import { LabelPlaces } from './label-places';
import { DraftFoot } from './parts/draft-foot';
import { ProblemList } from './parts/problem-list';

/** Labels published to people: one sentence an offer, the first that names a person decides. */
export function OffersPage() {
  const labels = useLabels();
  const [search, setSearch] = useSearchParams();
  const mayWrite = useMay('labels.write');
  const offers = labels.data?.offers ?? [];
  const all = labels.data?.labels.map(({ label }) => label) ?? [];
  const names = new Map(all.map(({ id, name }) => [String(id), name]));
  // The first is open until another is chosen: half a page would stay empty.
  const open = search.get('open') ?? offers[0]?.offer.id;
  const view = offers.find(({ offer }) => offer.id === open);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <LabelPlaces />
      <div className="mb-3 flex items-center gap-3">
        <h1 className="flex-1">Label offers</h1>
        <Button
          look="main"
          refusal={mayWrite ? undefined : 'Your account may not edit offers'}
          onClick={() => setSearch({ open: 'new' })}
        >
          Create offer
        </Button>
      </div>
      {labels.isPending && <Loading what="the offers" />}
      {labels.isError && <Notice look="stop">{errorSentence(labels.error)}</Notice>}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] gap-8">
        <ol aria-label="Offers. The first that includes a person applies.">
          {labels.data && offers.length === 0 && (
            <Empty title="No offers yet">Offer labels to everyone, or to some people first.</Empty>
          )}
          {offers.map((each, index) => (
            <li
              key={each.offer.id}
              className={`border-b border-rule py-2 ${each.offer.id === open ? 'bg-press-soft px-2' : ''}`}
            >
              <span className="mr-2 font-head text-ink-2">{index + 1}</span>
              <button
                type="button"
                className="part"
                aria-current={each.offer.id === open}
                onClick={() => setSearch({ open: each.offer.id })}
              >
                {each.offer.name}
              </button>{' '}
              <span className="text-[12.5px] text-ink-2">
                {STATE_WORDS[each.state]}, {each.people} {each.people === 1 ? 'person' : 'people'}
              </span>
              <p className="text-[13px]">{offerSentence(each.offer, names)}</p>
              <ProblemList problems={each.problems} />
            </li>
          ))}
        </ol>
        {(view ?? open === 'new') && labels.data ? (
          <Editor
            key={view?.offer.id ?? 'new'}
            view={view ?? null}
            labels={all}
            offers={offers.map(({ offer }) => offer)}
            readOnly={!mayWrite}
            onDone={() => setSearch({})}
          />
        ) : (
          <p className="text-ink-2">
            Select an offer to read or change it. If two offers include the same person for the same kind of
            item, the first applies.
          </p>
        )}
      </div>
    </div>
  );
}

interface EditorProps {
  readonly view: OfferView | null;
  readonly labels: readonly Label[];
  readonly offers: readonly Offer[];
  readonly readOnly: boolean;
  readonly onDone: () => void;
}

function Editor({ view, labels, offers, readOnly, onDone }: EditorProps) {
  const [draft, setDraft] = useState<Omit<Offer, 'id'>>(view?.offer ?? newOffer(offers, labels));
  const [note, setNote] = useState('');
  // The version that was opened: what somebody else saves meanwhile refuses this one.
  const [version] = useState(view?.version ?? 1);
  const save = useSaveLabel('offers');
  const remove = useRemoveLabel('offers');
  const change = (part: Partial<Offer>) => setDraft({ ...draft, ...part });
  const names = new Map(labels.map(({ id, name }) => [String(id), name]));
  const chosen = draft.labels.filter((id) => names.has(id));
  return (
    <form
      aria-label="An offer"
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(
          { id: view?.offer.id ?? null, value: draft, version, note },
          { onSuccess: () => (toast.success('The offer is saved as a draft'), onDone()) },
        );
      }}
    >
      <p className="border-l-2 border-press bg-sheet px-3 py-2">
        {offerSentence({ ...draft, id: '' as Offer['id'] }, names)}
      </p>
      <fieldset disabled={readOnly} className="flex flex-col gap-3">
        <TextField
          label="Name"
          required
          maxLength={120}
          value={draft.name}
          onChange={(event) => change({ name: event.target.value })}
        />
        <AudienceEditor audience={draft.people} onChange={(people) => change({ people })} />
        <div>
          <p className="mb-1 text-[12.5px] font-semibold text-ink-2">For</p>
          <div className="flex flex-wrap gap-4">
            {CARRIERS.map((carrier) => (
              <label key={carrier} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={draft.carriers.includes(carrier)}
                  onChange={() => change({ carriers: toggled(draft.carriers, carrier) })}
                />
                {CARRIER_WORDS[carrier]}
              </label>
            ))}
          </div>
        </div>
        <LabelOrder draft={draft} labels={labels} onChange={(ids) => change({ labels: ids })} />
        <Terms draft={draft} chosen={chosen} names={names} change={change} />
        <TextArea
          label="Message to people when it is published"
          rows={3}
          maxLength={4000}
          hint="Each person gets one mail with this message, what changes for them, and from when."
          value={draft.telling}
          onChange={(event) => change({ telling: event.target.value })}
        />
        <TextField
          label="What changed and why (for the history)"
          maxLength={4000}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      </fieldset>
      <DraftFoot
        id={view?.offer.id ?? null}
        error={save.error ?? remove.error}
        readOnly={readOnly}
        onRemove={(id) => remove.mutate(id, { onSuccess: onDone })}
        onLeave={onDone}
      />
    </form>
  );
}

interface TermsProps {
  readonly draft: Omit<Offer, 'id'>;
  readonly chosen: readonly LabelId[];
  readonly names: ReadonlyMap<string, string>;
  readonly change: (part: Partial<Offer>) => void;
}

/** How an item starts, what it needs, what going down costs, how a whole follows its parts, and from when. */
function Terms({ draft, chosen, names, change }: TermsProps) {
  const startLabel = draft.starts.kind === 'bare' ? (chosen[0] ?? ('' as LabelId)) : draft.starts.label;
  return (
    <div className="grid grid-cols-2 gap-3">
      <SelectField
        label="An item starts"
        value={draft.starts.kind}
        hint={
          draft.starts.kind === 'preset'
            ? 'Most people keep a preset, right or wrong. A proposal asks for one click.'
            : undefined
        }
        options={[
          { value: 'bare', label: 'without a label' },
          { value: 'proposed', label: 'with one proposed' },
          { value: 'preset', label: 'with one preset' },
        ]}
        onChange={(kind) => change({ starts: kind === 'bare' ? { kind } : { kind, label: startLabel } })}
      />
      {draft.starts.kind !== 'bare' && (
        <SelectField
          label="Which one"
          value={startLabel}
          options={chosen.map((id) => ({ value: id, label: names.get(id) ?? id }))}
          onChange={(label) =>
            change({
              starts: {
                kind: draft.starts.kind === 'preset' ? 'preset' : 'proposed',
                label: label as LabelId,
              },
            })
          }
        />
      )}
      <SelectField
        label="Before it can leave, it needs"
        value={draft.needs}
        options={NEEDS.map((need) => ({
          value: need,
          label: need === 'nothing' ? 'nothing' : 'a label',
        }))}
        onChange={(needs) => change({ needs })}
      />
      <SelectField
        label="Choosing a lower label"
        value={draft.lowering}
        options={COSTS.map((cost) => ({ value: cost, label: COST_WORDS[cost] }))}
        onChange={(lowering) => change({ lowering })}
      />
      <SelectField
        label="A whole"
        value={draft.follows}
        options={FOLLOWINGS.map((following) => ({ value: following, label: FOLLOWING_WORDS[following] }))}
        onChange={(follows) => change({ follows })}
      />
      <TextField
        label="Valid from (empty: at once)"
        type="date"
        value={draft.from ?? ''}
        onChange={(event) => change({ from: event.target.value || null })}
      />
    </div>
  );
}

/** Labels of an offer in the order in which people see them; that order says nothing about rank. */
function LabelOrder({
  draft,
  labels,
  onChange,
}: {
  readonly draft: Omit<Offer, 'id'>;
  readonly labels: readonly Label[];
  readonly onChange: (ids: LabelId[]) => void;
}) {
  const rest = labels.filter(({ id, retired }) => !retired && !draft.labels.includes(id));
  return (
    <div>
      <p className="mb-1 text-[12.5px] font-semibold text-ink-2">Labels in the order people see them</p>
      <ol className="border-y border-rule">
        {draft.labels.map((id, index) => {
          const label = labels.find((each) => each.id === id);
          return (
            <li
              key={id}
              className="flex items-center gap-2 border-b border-dotted border-rule py-0.5 last:border-0"
            >
              <span className="flex-1">
                {label?.name ?? 'a label that was removed'}{' '}
                <span className="text-[12.5px] text-ink-2">rank {label?.rank ?? '?'}</span>
              </span>
              <Button
                look="quiet"
                aria-label={`Show ${label?.name ?? id} earlier`}
                refusal={index === 0 ? 'It is already first' : undefined}
                onClick={() => onChange(moved(draft.labels, index, -1))}
              >
                ↑
              </Button>
              <Button
                look="quiet"
                aria-label={`Show ${label?.name ?? id} later`}
                refusal={index === draft.labels.length - 1 ? 'It is already last' : undefined}
                onClick={() => onChange(moved(draft.labels, index, 1))}
              >
                ↓
              </Button>
              <Button
                look="quiet"
                aria-label={`Remove ${label?.name ?? id}`}
                onClick={() => onChange(toggled(draft.labels, id))}
              >
                ×
              </Button>
            </li>
          );
        })}
      </ol>
      {rest.map(({ id, name }) => (
        <Button key={id} look="quiet" onClick={() => onChange([...draft.labels, id])}>
          + {name}
        </Button>
      ))}
    </div>
  );
}
