import type { ChooserView, MailDetail } from '@lantern/contracts';
import { type MailToSend, useHighestOfFiles } from '../../data/mail';
import { errorSentence } from '../../wording/errors';
import { ChooseLabel } from '../choose-label';
import { SuggestedLabel } from '../suggested-label';
import { useSuggestion } from '../use-suggestion';
import { followingOf } from './following';

interface Props {
  readonly person: string;
  readonly chooser: ChooserView;
  readonly chosen: string | null;
  /** The label of the draft, which the person may not be able to choose. */
  readonly carried: MailDetail['label'];
  readonly mail: Pick<MailToSend, 'files' | 'draft' | 'keep'>;
  /** What is written by now, and whether somebody outside is to get it. */
  readonly text: string;
  readonly sharedOutside: boolean;
  readonly onChoose: (id: string | null) => void;
}

/** The label of a mail, and how it follows the labels of its files, said while they are put in. */
export function LabelRow({ person, chooser, chosen, carried, mail, text, sharedOutside, onChoose }: Props) {
  const suggestion = useSuggestion(person, 'mail', { text, label: chosen, sharedOutside });
  const found = useHighestOfFiles(person, mail, chooser.follows !== 'stands-alone');
  const following = followingOf(chooser, chosen, found.data?.label ?? null);
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-b border-rule py-1">
      <span className="w-16 text-ink-2">Label</span>
      <div className="w-80">
        <ChooseLabel chooser={chooser} chosen={chosen} carried={carried} onChoose={onChoose} />
      </div>
      {found.isFetching && (
        <span className="text-[12.5px] text-ink-2">Reading the labels of the files …</span>
      )}
      {found.isError && <span className="text-[12.5px]">{errorSentence(found.error)}</span>}
      {following && (
        <span role="status" className="text-[12.5px]">
          {following.words}{' '}
          {following.take && (
            <button type="button" className="text-press underline" onClick={() => onChoose(following.take)}>
              Set it on the mail
            </button>
          )}
        </span>
      )}
      <SuggestedLabel suggestion={suggestion} chooser={chooser} onTake={onChoose} />
    </div>
  );
}
