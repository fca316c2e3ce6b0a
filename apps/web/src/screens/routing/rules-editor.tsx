import type { RoutingRuleRequest, RoutingRuleView } from '@lantern/contracts';
import { deskPath, parseFilter } from '@lantern/core/incidents';
import { SEVERITIES, type Severity } from '@lantern/core/policy';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { useAssignees } from '../../data/desk';
import { useListCounts } from '../../data/queue';
import { RuleResponses } from './rule-responses';
import { useHooks, useOrderRules, useRemoveRule, useRoutingRules, useSaveRule } from '../../data/response';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { faultWords, RESPONSE_WORDS } from '../../wording/desk';
import { errorSentence } from '../../wording/errors';
import { SEVERITY_WORDS } from '../../wording/terms';

const BLANK: RoutingRuleRequest = { name: '', filter: '', test: false, tell: [], active: true, watch: false };
const MONTH = 'time ge "30 days ago"';

/** The lines that hold over the last month: what a rule would have done. */
export const overLastMonth = (filter: string): string =>
  filter.trim() === '' ? MONTH : `(${filter.trim()}) and ${MONTH}`;

/** Ordered rules, and the caller's own watches, each with what it would have done. */
export function RulesEditor({ mayRoute }: { readonly mayRoute: boolean }) {
  const rules = useRoutingRules();
  const order = useOrderRules();
  const [edited, setEdited] = useState<string | null>(null);
  if (rules.isError) return <Notice look="stop">{errorSentence(rules.error)}</Notice>;
  if (!rules.data) return <Loading what="routing rules" />;
  const shared = rules.data.filter(({ watch }) => !watch);
  const move = (id: string, by: -1 | 1) => {
    const ids = shared.map((rule) => rule.id);
    const at = ids.indexOf(id);
    const other = ids[at + by];
    if (other === undefined) return;
    ids[at] = other;
    ids[at + by] = id;
    order.mutate(ids, { onError: (error) => toast.error(errorSentence(error)) });
  };
  return (
    <div className="flex flex-col gap-4">
      <p className="max-w-2xl text-ink-2">
        Rules act in this order when an incident is recorded. The first that holds decides who gets it, how
        severe it is and whether it is a test. All that hold alert, open tickets and respond. A watch alerts
        only you.
      </p>
      {rules.data.length === 0 && (
        <Empty title="No rule yet">Add a rule to hand incidents to the right person as they arrive.</Empty>
      )}
      <ol className="flex flex-col gap-2">
        {rules.data.map((rule) => (
          <li key={rule.id} className="rounded border border-rule bg-sheet px-3.5 py-2.5">
            {edited === rule.id ? (
              <RuleForm rule={rule} mayRoute={mayRoute} onDone={() => setEdited(null)} />
            ) : (
              <RuleLine
                rule={rule}
                mayChange={mayRoute || rule.watch}
                onEdit={() => setEdited(rule.id)}
                onMove={mayRoute && !rule.watch ? (by) => move(rule.id, by) : undefined}
              />
            )}
          </li>
        ))}
      </ol>
      {edited === 'new' ? (
        <div className="rounded border border-press bg-sheet px-3.5 py-3">
          <RuleForm rule={null} mayRoute={mayRoute} onDone={() => setEdited(null)} />
        </div>
      ) : (
        <p>
          <Button look="main" onClick={() => setEdited('new')}>
            {mayRoute ? 'Add rule or watch' : 'Add watch'}
          </Button>
        </p>
      )}
    </div>
  );
}

interface LineProps {
  readonly rule: RoutingRuleView;
  readonly mayChange: boolean;
  readonly onEdit: () => void;
  readonly onMove: ((by: -1 | 1) => void) | undefined;
}

function RuleLine({ rule, mayChange, onEdit, onMove }: LineProps) {
  const hooks = useHooks(rule.hook !== undefined);
  const does = [
    ...(rule.assign ? [`hand to ${rule.assign}`] : []),
    ...(rule.severity ? [`severity ${SEVERITY_WORDS[rule.severity].toLowerCase()}`] : []),
    ...(rule.test ? ['mark as our own test'] : []),
    ...(rule.tell.length > 0 ? [`alert ${rule.tell.join(', ')}`] : []),
    ...(rule.hook
      ? [`ticket in ${hooks.data?.find(({ id }) => id === rule.hook)?.name ?? 'a deleted web hook'}`]
      : []),
    ...(rule.respond ?? []).map(({ kind }) => RESPONSE_WORDS[kind].toLowerCase()),
  ];
  return (
    <div className="flex items-start gap-3">
      <div className="min-w-0 flex-1">
        <p>
          <b>{rule.name}</b>
          <span className="text-ink-2">
            {rule.watch && ' · your watch'}
            {!rule.active && ' · off'}
          </span>
        </p>
        <p className="truncate font-mono text-[12.5px] text-ink-2">{rule.filter || 'every incident'}</p>
        <p className="text-[12.5px]">{does.join('; ') || 'does nothing yet'}</p>
      </div>
      {onMove && (
        <>
          <Button look="quiet" aria-label={`Move ${rule.name} up`} onClick={() => onMove(-1)}>
            ↑
          </Button>
          <Button look="quiet" aria-label={`Move ${rule.name} down`} onClick={() => onMove(1)}>
            ↓
          </Button>
        </>
      )}
      {mayChange && (
        <Button look="quiet" onClick={onEdit}>
          Edit
        </Button>
      )}
    </div>
  );
}

interface FormProps {
  readonly rule: RoutingRuleView | null;
  readonly mayRoute: boolean;
  readonly onDone: () => void;
}

function RuleForm({ rule, mayRoute, onDone }: FormProps) {
  const save = useSaveRule();
  const remove = useRemoveRule();
  const [draft, setDraft] = useState<RoutingRuleRequest>(rule ?? { ...BLANK, watch: !mayRoute });
  const [tell, setTell] = useState(draft.tell.join(', '));
  const set = (changed: Partial<RoutingRuleRequest>) => setDraft({ ...draft, ...changed });
  const parsed = parseFilter(draft.filter);
  const addresses = tell
    .split(/[\s,;]+/u)
    .map((each) => each.trim())
    .filter(Boolean);
  const submit = () => {
    const { name, filter, test, active, watch, assign, severity, hook, respond = [] } = draft;
    save.mutate(
      {
        id: rule?.id ?? null,
        ...{ name: name.trim(), filter, test, active, watch, tell: watch ? [] : addresses },
        ...(assign ? { assign } : {}),
        ...(severity ? { severity } : {}),
        ...(hook ? { hook } : {}),
        ...(respond.length > 0 && !watch ? { respond } : {}),
        ...(rule ? { version: rule.version } : {}),
      },
      { onSuccess: onDone },
    );
  };
  const refusal =
    draft.name.trim() === ''
      ? 'Name the rule'
      : parsed.status === 'faulty'
        ? 'Correct the filter'
        : undefined;
  return (
    <div className="flex flex-col gap-3">
      <TextField label="Name" value={draft.name} onChange={(event) => set({ name: event.target.value })} />
      <TextField
        label="When"
        className="font-mono"
        spellCheck={false}
        placeholder='policy eq "…" and severity ge "high"; empty for every incident'
        value={draft.filter}
        error={
          parsed.status === 'faulty'
            ? `Character ${parsed.fault.at + 1}: ${faultWords(parsed.fault)}`
            : undefined
        }
        onChange={(event) => set({ filter: event.target.value })}
      />
      {parsed.status === 'read' && <LastMonth filter={draft.filter} />}
      {mayRoute && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={draft.watch}
            onChange={(event) => set({ watch: event.target.checked })}
          />
          A watch: alert only me
        </label>
      )}
      {!draft.watch && (
        <Effects draft={draft} tell={tell} onChange={set} onTell={setTell} mayRoute={mayRoute} />
      )}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={draft.active}
          onChange={(event) => set({ active: event.target.checked })}
        />
        On
      </label>
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <div className="flex gap-2">
        <Button look="main" refusal={refusal} onClick={submit}>
          Save rule
        </Button>
        <Button look="quiet" onClick={onDone}>
          Cancel
        </Button>
        {rule && (
          <Button
            look="stop"
            className="ml-auto"
            onClick={() => {
              const { id: _id, position: _position, version: _version, owner: _owner, ...kept } = rule;
              remove.mutate(rule.id, {
                onSuccess: () => {
                  onDone();
                  toast(`Rule "${rule.name}" deleted`, {
                    action: { label: 'Undo', onClick: () => save.mutate({ id: null, ...kept }) },
                  });
                },
                onError: (error) => toast.error(errorSentence(error)),
              });
            }}
          >
            Delete rule
          </Button>
        )}
      </div>
    </div>
  );
}

interface EffectsProps {
  readonly draft: RoutingRuleRequest;
  readonly tell: string;
  readonly onChange: (changed: Partial<RoutingRuleRequest>) => void;
  readonly onTell: (tell: string) => void;
  readonly mayRoute: boolean;
}

/** What a rule of the desk does with incidents. */
function Effects({ draft, tell, onChange, onTell, mayRoute }: EffectsProps) {
  const assignees = useAssignees();
  const hooks = useHooks(mayRoute);
  return (
    <div className="grid grid-cols-2 gap-3">
      <SelectField
        label="Hand to"
        value={draft.assign ?? ''}
        options={[
          { value: '', label: 'nobody' },
          ...(assignees.data ?? []).map(({ name, email }) => ({ value: email, label: name })),
        ]}
        onChange={(assign) => onChange({ assign: assign || undefined } as Partial<RoutingRuleRequest>)}
      />
      <SelectField<Severity | ''>
        label="Severity"
        value={draft.severity ?? ''}
        options={[
          { value: '', label: 'as the policy rules say' },
          ...SEVERITIES.map((value) => ({ value, label: SEVERITY_WORDS[value] })),
        ]}
        onChange={(severity) => onChange({ severity: severity || undefined } as Partial<RoutingRuleRequest>)}
      />
      <TextField
        label="Alert these addresses"
        value={tell}
        hint="Divided by commas. Alerts hold no content; at most 6 mails an hour."
        onChange={(event) => onTell(event.target.value)}
      />
      <SelectField
        label="Open a ticket in"
        value={draft.hook ?? ''}
        options={[
          { value: '', label: 'nothing' },
          ...(hooks.data ?? []).map(({ id, name }) => ({ value: id, label: name })),
        ]}
        onChange={(hook) => onChange({ hook: hook || undefined } as Partial<RoutingRuleRequest>)}
      />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={draft.test}
          onChange={(event) => onChange({ test: event.target.checked })}
        />
        Mark as our own test
      </label>
      <RuleResponses responses={draft.respond ?? []} onChange={(respond) => onChange({ respond })} />
    </div>
  );
}

/** What the rule would have done over the last 30 days. */
function LastMonth({ filter }: { readonly filter: string }) {
  const line = overLastMonth(filter);
  const counts = useListCounts(line);
  const count = counts.data?.incidents;
  return (
    <p role="status" className="text-[12.5px] text-ink-2">
      {count === undefined ? (
        'Counting …'
      ) : (
        <Link className="part" to={deskPath(line)}>
          {count.toLocaleString('en-GB')} {count === 1 ? 'incident' : 'incidents'} of the last 30 days
        </Link>
      )}
    </p>
  );
}
