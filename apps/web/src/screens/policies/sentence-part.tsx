import type { ReactNode } from 'react';
import { EditorPopover } from '../../ui/popover';

const LOOKS = {
  strong: 'part',
  quiet: 'underline decoration-dotted underline-offset-4',
} as const;

interface Props {
  readonly words: string;
  /** What pressing it does. */
  readonly label: string;
  readonly readOnly: boolean;
  readonly look?: keyof typeof LOOKS;
  readonly children: ReactNode;
}

/** Words of a sentence that open their editor, or only words for those who read. */
export function SentencePart({ words, label, readOnly, look = 'strong', children }: Props) {
  if (readOnly) return look === 'strong' ? <b>{words}</b> : <span>{words}</span>;
  return (
    <EditorPopover
      wide
      label={label}
      trigger={
        <button type="button" className={LOOKS[look]} title={label}>
          {words}
        </button>
      }
    >
      {children}
    </EditorPopover>
  );
}
