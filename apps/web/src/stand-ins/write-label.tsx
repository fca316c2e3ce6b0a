import type { ChooserView } from '@lantern/contracts';
import type { Carrier } from '@lantern/core/labels';
import { ChooseLabel } from './choose-label';
import { SuggestedLabel } from './suggested-label';
import { useSuggestion } from './use-suggestion';

interface Props {
  readonly player: string;
  readonly carrier: Carrier;
  readonly chooser: ChooserView;
  readonly text: string;
  readonly sharedOutside: boolean;
  readonly chosen: string | null;
  /** The label it carries when the person cannot choose it themselves. */
  readonly carried?: { readonly id: string; readonly name: string; readonly colour: string } | null;
  readonly onChoose: (id: string | null) => void;
}

/** The label of something that is written here, with what the text calls for. */
export function WriteLabel({
  player,
  carrier,
  chooser,
  text,
  sharedOutside,
  chosen,
  carried,
  onChoose,
}: Props) {
  const suggestion = useSuggestion(player, carrier, { text, label: chosen, sharedOutside });
  if (chooser.labels.length === 0 && !suggestion) return null;
  return (
    <div className="my-1.5 flex max-w-3xl flex-col gap-1.5">
      <div className="flex items-center gap-2">
        <span className="text-[12.5px] text-ink-2">Label</span>
        <div className="w-72">
          <ChooseLabel chooser={chooser} chosen={chosen} carried={carried ?? null} onChoose={onChoose} />
        </div>
      </div>
      <SuggestedLabel suggestion={suggestion} chooser={chooser} onTake={onChoose} />
    </div>
  );
}
