import type { ExchangeView } from '@lantern/contracts';
import { EVERYBODY } from '@lantern/core/directory';
import { type Exchange } from '@lantern/core/policy';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { usePatterns } from '../../../data/patterns';
import { useExchanges, useNames, useRemovePart, useSaveExchange } from '../../../data/policies';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { Chips } from '../../../ui/chosen-terms';
import { SelectField, TextArea, TextField } from '../../../ui/field';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { audienceWords } from '../../../wording/audience';
import { STATE_WORDS } from '../../../wording/terms';
import { StandingApprovals } from '../../../shared/approvals/standing-approvals';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { PartButtons } from '../part-buttons';
import { PolicyPlaces } from '../../../shared/policy-places';

type Draft = Omit<Exchange, 'id'>;
const EMPTY: Draft = { name: '', from: EVERYBODY, to: [], patterns: [], why: '', until: null };

/** Who may send what to whom, why, until when: the register that rules refer to. */
export function ExchangesPage() {
  const exchanges = useExchanges();
  const names = useNames();
  const [search, setSearch] = useSearchParams();
  const mayWrite = useMay('policies.write');
  const open = search.get('open');
  const view = exchanges.data?.find(({ exchange }) => exchange.id === open);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <div className="mb-3 flex items-center gap-3">
        <h1 className="flex-1">Approved exchanges</h1>
        <Button
          look="main"
          refusal={mayWrite ? undefined : 'Your account may not edit approved exchanges'}
          onClick={() => setSearch({ open: 'new' })}
        >
          Create exchange
        </Button>
      </div>
      {exchanges.isPending && <Loading what="the exchanges" />}
      {exchanges.isError && <Notice look="stop">{errorSentence(exchanges.error)}</Notice>}
      {exchanges.data?.length === 0 && (
        <Empty title="No approved exchanges yet">
          Record who regularly sends what to whom, so that rules can make an exception.
        </Empty>
      )}
      <table className="w-full text-[13px]">
        <thead>
          <tr className="text-left text-ink-2">
            <th className="py-1 font-normal">exchange</th>
            <th className="font-normal">who</th>
            <th className="font-normal">to</th>
            <th className="font-normal">what</th>
            <th className="font-normal">until</th>
            <th className="font-normal">used by</th>
          </tr>
        </thead>
        <tbody>
          {(exchanges.data ?? []).map(({ exchange, state, usedBy }) => (
            <tr key={exchange.id} className="border-t border-rule align-baseline">
              <td className="py-1.5 pr-3">
                <button
                  type="button"
                  className="part text-left"
                  onClick={() => setSearch({ open: exchange.id })}
                >
                  {exchange.name}
                </button>{' '}
                <span className="text-ink-2">{STATE_WORDS[state]}</span>
                <p className="text-ink-2">{exchange.why}</p>
              </td>
              <td className="pr-3">{audienceWords(exchange.from)}</td>
              <td className="pr-3">{exchange.to.join(', ') || 'nobody yet'}</td>
              <td className="pr-3">
                {exchange.patterns.map((id) => names.get(id) ?? 'a pattern that was removed').join(', ') ||
                  'anything'}
              </td>
              <td className="pr-3 whitespace-nowrap">{exchange.until ?? 'no end'}</td>
              <td>
                {usedBy.map(({ policyName, rule }) => `${policyName}, ${rule}`).join('; ') || 'no rule'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <StandingApprovals all={false} empty />
      {(view ?? open === 'new') && (
        <Editor
          key={view?.exchange.id ?? 'new'}
          view={view ?? null}
          readOnly={!mayWrite}
          onDone={() => setSearch({})}
        />
      )}
    </div>
  );
}

interface EditorProps {
  readonly view: ExchangeView | null;
  readonly readOnly: boolean;
  readonly onDone: () => void;
}

function Editor({ view, readOnly, onDone }: EditorProps) {
  const { id: _id, ...start } = view?.exchange ?? { id: null, ...EMPTY };
  const [draft, setDraft] = useState<Draft>(start);
  const save = useSaveExchange();
  const remove = useRemovePart('exchanges');
  const submit = () =>
    save.mutate(
      { id: view?.exchange.id ?? null, value: draft, version: view?.version ?? 1 },
      { onSuccess: () => (toast.success('The exchange is saved as a draft'), onDone()) },
    );
  return (
    <form
      aria-label="An exchange"
      className="mt-6 grid max-w-4xl grid-cols-2 gap-x-6 gap-y-3 border-t border-rule-strong pt-4"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <TextField
        label="Name"
        required
        readOnly={readOnly}
        maxLength={120}
        value={draft.name}
        onChange={(event) => setDraft({ ...draft, name: event.target.value })}
      />
      <TextField
        label="Last day"
        type="date"
        hint="Empty: no end."
        readOnly={readOnly}
        value={draft.until ?? ''}
        onChange={(event) => setDraft({ ...draft, until: event.target.value || null })}
      />
      <div>
        <p className="mb-1 text-[12.5px] font-semibold text-ink-2">Who sends</p>
        <AudienceEditor audience={draft.from} onChange={(from) => setDraft({ ...draft, from })} />
      </div>
      <div className="flex flex-col gap-3">
        <TextArea
          label="Recipients: addresses or domains, one per line"
          rows={3}
          readOnly={readOnly}
          defaultValue={draft.to.join('\n')}
          onChange={(event) =>
            setDraft({ ...draft, to: event.target.value.split(/[\s,;]+/).filter(Boolean) })
          }
        />
        <Patterns draft={draft} onChange={setDraft} />
      </div>
      <TextArea
        className="col-span-2"
        label="Why it is approved"
        rows={2}
        readOnly={readOnly}
        maxLength={4000}
        value={draft.why}
        onChange={(event) => setDraft({ ...draft, why: event.target.value })}
      />
      <PartButtons
        readOnly={readOnly}
        error={save.error ?? remove.error}
        onRemove={view && (() => remove.mutate(view.exchange.id, { onSuccess: onDone }))}
        inUse={(view?.usedBy.length ?? 0) > 0}
        onDone={onDone}
      />
    </form>
  );
}

function Patterns({ draft, onChange }: { readonly draft: Draft; readonly onChange: (draft: Draft) => void }) {
  const patterns = usePatterns();
  const left = (patterns.data ?? []).filter(({ id }) => !draft.patterns.includes(id));
  const names = new Map((patterns.data ?? []).map(({ id, name }) => [id, name]));
  return (
    <div>
      <Chips
        items={draft.patterns}
        none=""
        words={(id) => names.get(id) ?? 'a pattern that was removed'}
        onChange={(chosen) => onChange({ ...draft, patterns: chosen })}
      />
      <SelectField
        label="What may go"
        hint="None selected: any pattern."
        value=""
        options={[
          { value: '', label: 'add a pattern' },
          ...left.map(({ id, name }) => ({ value: id, label: name })),
        ]}
        onChange={(id) => id && onChange({ ...draft, patterns: [...draft.patterns, id] })}
      />
    </div>
  );
}
