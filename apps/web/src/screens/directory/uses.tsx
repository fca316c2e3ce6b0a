import { type UseKind, useDirectoryUses } from '../../data/directory';

/** Where something of the directory is named: policies, rules, offers, exchanges, roles. */
export function Uses({ kind, name }: { readonly kind: UseKind; readonly name: string }) {
  const uses = useDirectoryUses(kind, name);
  if (!uses.data) return null;
  return (
    <section aria-label="Where it is used">
      <h3 className="mb-1">Used in</h3>
      {uses.data.length === 0 ? (
        <p className="text-ink-2">No rule, offer, exchange or role that you can see uses it.</p>
      ) : (
        <ul className="list-disc pl-5">
          {uses.data.map(({ of, draft }) => (
            <li key={`${of} ${String(draft)}`}>
              {of}
              {draft && <span className="text-ink-2"> (draft)</span>}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
