import type { ReactNode } from 'react';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';

interface Props {
  readonly codes: readonly string[];
  readonly close: () => void;
  /** What they are for. */
  readonly children: ReactNode;
}

/** Codes that each work once, shown only now. */
export function RecoveryCodes({ codes, close, children }: Props) {
  return (
    <div className="mb-3">
      <Notice look="go">
        <p className="mb-1">{children}</p>
        <ul className="mb-2 grid grid-cols-2 gap-x-6 font-mono select-all sm:grid-cols-5">
          {codes.map((code) => (
            <li key={code}>{code}</li>
          ))}
        </ul>
        <Button onClick={close}>I have kept them</Button>
      </Notice>
    </div>
  );
}
