import type { ChoiceView, ChooserView } from '@lantern/contracts';
import { useState } from 'react';
import { EFFECT_WORDS } from '../wording/effects';
import { LabelTag } from './label-tag';

interface Props {
  readonly chooser: ChooserView;
  readonly chosen: string | null;
  /** The label of the document when the person cannot choose it themselves. */
  readonly carried: { readonly id: string; readonly name: string; readonly colour: string } | null;
  readonly onChoose: (id: string | null) => void;
}

/** Labels to choose, each with the words that help, the least to the most sensitive of a family together. */
export function ChooseLabel({ chooser, chosen, carried, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  const current = chooser.labels.find(({ id }) => id === chosen) ?? (carried?.id === chosen ? carried : null);
  const families = [...new Set(chooser.labels.map(({ family }) => family))];
  const pick = (id: string | null) => {
    onChoose(id);
    setOpen(false);
  };
  return (
    <div className="relative">
      <button
        type="button"
        aria-haspopup="listbox"
        aria-expanded={open}
        className="flex w-full items-center justify-between gap-2 rounded border border-rule-strong bg-white px-2.5 py-1 text-left"
        onClick={() => setOpen(!open)}
        onKeyDown={(event) => event.key === 'Escape' && setOpen(false)}
      >
        <LabelTag label={current} />
        <span className="text-press">{open ? 'close' : 'choose'}</span>
      </button>
      {open && (
        <div
          role="listbox"
          aria-label="Labels"
          className="absolute right-0 left-0 z-30 max-h-96 overflow-auto rounded border border-rule-strong bg-white p-2 shadow-lg"
        >
          {families.map((family) => (
            <div key={family} role="group" aria-label={family || 'Labels'}>
              {family && <p className="px-1 pt-1 text-[12px] text-ink-2">{family}</p>}
              {chooser.labels
                .filter((label) => label.family === family)
                .map((label) => (
                  <Choice
                    key={label.id}
                    label={label}
                    isChosen={label.id === chosen}
                    onPick={() => pick(label.id)}
                  />
                ))}
            </div>
          ))}
          {!chooser.needsLabel && (
            <button
              type="button"
              role="option"
              aria-selected={chosen === null}
              className="mt-1 block w-full rounded px-2 py-1 text-left italic hover:bg-[#eef5f2]"
              onClick={() => pick(null)}
            >
              no label
            </button>
          )}
          {chooser.labels.length === 0 && <p className="p-2 text-ink-2">No labels are offered to you yet.</p>}
        </div>
      )}
    </div>
  );
}

function Choice({
  label,
  isChosen,
  onPick,
}: {
  readonly label: ChoiceView;
  readonly isChosen: boolean;
  readonly onPick: () => void;
}) {
  return (
    <button
      type="button"
      role="option"
      aria-selected={isChosen}
      className={`block w-full rounded px-2 py-1.5 text-left hover:bg-[#eef5f2] ${isChosen ? 'bg-[#d8e8e2]' : ''}`}
      onClick={onPick}
    >
      <b>
        <LabelTag label={label} />
      </b>
      <span className="block text-[12.5px]">{label.when}</span>
      {label.not && <span className="block text-[12.5px] text-ink-2">{label.not}</span>}
      <span className="block text-[12px] text-ink-2">{label.handling}</span>
      {label.namesFor.length > 0 && (
        <span className="block text-[12px]">
          You choose who may {label.namesFor.map((effect) => EFFECT_WORDS[effect]).join(', ')}.
        </span>
      )}
    </button>
  );
}
