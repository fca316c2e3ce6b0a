import type { ComponentPropsWithRef, KeyboardEvent } from 'react';

/**
 * Something inside running text that can be pressed. A button element never breaks across lines; this one does, and
 * answers the same keys.
 */
export function InlinePress({ children, className, ...rest }: ComponentPropsWithRef<'span'>) {
  const press = (event: KeyboardEvent<HTMLSpanElement>) => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    event.currentTarget.click();
  };
  return (
    <span
      {...rest}
      role="button"
      tabIndex={0}
      onKeyDown={press}
      className={`cursor-pointer ${className ?? ''}`}
    >
      {children}
    </span>
  );
}
