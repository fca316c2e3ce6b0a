import type { PatternDetail } from '@lantern/contracts';
import type { ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { useRemovePattern } from '../../data/patterns';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';

interface Props {
  /** Null while it is new. */
  readonly pattern: PatternDetail | null;
  /** What stands in place of the name while it is new, and what removing removes. */
  readonly untitled: string;
  readonly what: string;
  /** Beside the name: what saves. */
  readonly children?: ReactNode;
}

/** Head of the page of an own pattern: the way back, its name, and taking it away. */
export function PatternHead({ pattern, untitled, what, children }: Props) {
  const navigate = useNavigate();
  const remove = useRemovePattern();
  const mayWrite = useMay('patterns.write');
  return (
    <>
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to="/patterns">
          Patterns
        </Link>
      </p>
      <div className="mb-3 flex items-center gap-3">
        <h1 className="flex-1">{pattern ? pattern.name : untitled}</h1>
        {pattern && mayWrite && (
          <Button
            look="stop"
            onClick={() => remove.mutate(pattern.id, { onSuccess: () => void navigate('/patterns') })}
          >
            Remove the {what}
          </Button>
        )}
        {children}
      </div>
      {remove.isError && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
    </>
  );
}
