import { type ItemAct, MAX_ACT_ITEMS } from '@lantern/contracts/discovery';
import { type FormEvent, useState } from 'react';
import { useAct, useActs, useDiscoveryPlaces } from '../../../data/discovery';
import { useLabels } from '../../../data/labels';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { ACT_WORDS, actReasonWords, number } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';

interface Props {
  readonly items: readonly string[];
  /** Of a single item: what can be done differs. */
  readonly isQuarantined?: boolean;
  readonly onDone: () => void;
}

/** What can be done about items, carried out where they lie; every act asks for a reason and can be put back. */
export function ActBar({ items, isQuarantined, onDone }: Props) {
  const mayRun = useMay('discovery.run');
  const act = useAct();
  const labels = useLabels();
  const [wanted, setWanted] = useState<ItemAct | null>(null);
  const [reason, setReason] = useState('');
  const [label, setLabel] = useState('');
  const [to, setTo] = useState('');
  const places = useDiscoveryPlaces();
  const [begun, setBegun] = useState<string | null>(null);
  if (!mayRun) return <p className="p-2 text-[12.5px] text-ink-2">Your account may not change items.</p>;
  const tooMany = items.length > MAX_ACT_ITEMS ? `At most ${MAX_ACT_ITEMS} items at once.` : undefined;
  const missing =
    wanted === 'label' && label === ''
      ? 'Choose a label.'
      : wanted === 'move' && to === ''
        ? 'Choose a place.'
        : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!wanted) return;
    act.mutate(
      {
        act: wanted,
        items: [...items],
        reason,
        ...(wanted === 'label' ? { label } : {}),
        ...(wanted === 'move' ? { to } : {}),
      },
      {
        onSuccess: ({ id }) => {
          setBegun(id);
          setWanted(null);
          setReason('');
          onDone();
        },
      },
    );
  };
  const choices: readonly ItemAct[] =
    isQuarantined === undefined
      ? ['label', 'move', 'quarantine', 'put-back']
      : isQuarantined
        ? ['put-back']
        : ['label', 'move', 'quarantine'];
  const words: Readonly<Record<ItemAct, string>> = {
    label: 'Label …',
    move: 'Move …',
    quarantine: 'Put into quarantine …',
    'put-back': 'Put back …',
  };
  return (
    <div className="p-2">
      <div className="flex flex-wrap gap-2">
        {choices.map((choice) => (
          <Button
            key={choice}
            refusal={tooMany}
            aria-expanded={wanted === choice}
            onClick={() => setWanted(wanted === choice ? null : choice)}
          >
            {words[choice]}
          </Button>
        ))}
      </div>
      {wanted && (
        <form className="mt-2 flex flex-col gap-2" aria-label={ACT_WORDS[wanted]} onSubmit={submit}>
          <p className="text-[12.5px]">{EFFECTS[wanted](items.length)}</p>
          {wanted === 'label' && (
            <SelectField
              label="Label"
              value={label}
              options={[
                { value: '', label: 'Choose one' },
                ...(labels.data?.labels ?? []).map(({ label: each }) => ({
                  value: String(each.id),
                  label: each.name,
                })),
              ]}
              onChange={setLabel}
            />
          )}
          {wanted === 'move' && (
            <SelectField
              label="Move to"
              value={to}
              options={[
                { value: '', label: 'Choose one' },
                ...(places.data ?? []).flatMap(({ id, name, store }) =>
                  store === 'folder' ? [{ value: id, label: name }] : [],
                ),
              ]}
              onChange={setTo}
            />
          )}
          <TextField
            label="Reason, kept in the history"
            required
            minLength={3}
            maxLength={300}
            value={reason}
            onChange={({ target }) => setReason(target.value)}
          />
          <div className="flex gap-2">
            <Button look="main" type="submit" refusal={missing}>
              Do it
            </Button>
            <Button onClick={() => setWanted(null)}>Cancel</Button>
          </div>
        </form>
      )}
      {act.error && <Notice look="stop">{errorSentence(act.error)}</Notice>}
      {begun && <Outcome id={begun} />}
    </div>
  );
}

const EFFECTS: Readonly<Record<ItemAct, (count: number) => string>> = {
  label: (count) => `${number(count)} ${count === 1 ? 'file gets' : 'files get'} the label written into it.`,
  move: (count) =>
    `${number(count)} ${count === 1 ? 'file goes' : 'files go'} to the same path in another place and keeps its dates and label. A file stays where it is if that path is taken there.`,
  quarantine: (count) =>
    `${number(count)} ${count === 1 ? 'file is' : 'files are'} moved to where only the reader can open it; a note with whom to ask stays in its place.`,
  'put-back': (count) => `${number(count)} ${count === 1 ? 'file goes' : 'files go'} back to where it was.`,
};

/** What came of the last act. */
function Outcome({ id }: { readonly id: string }) {
  const acts = useActs();
  const found = acts.data?.find((each) => each.id === id);
  if (!found) return null;
  return (
    <div role="status" className="mt-2 text-[12.5px]">
      {found.waiting > 0
        ? `${number(found.waiting)} wait for a reader …`
        : `${ACT_WORDS[found.act]}: ${number(found.done)}.`}
      {found.refused.length > 0 && (
        <ul className="text-stop">
          {found.refused.map(({ path, reason }) => (
            <li key={path} className="break-all">
              {path}: not done, {actReasonWords(reason)}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
