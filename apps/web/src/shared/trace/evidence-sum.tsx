import type { Evidence } from '@lantern/core/detection';
import { evidenceWords, weightWords } from '../../wording/evidence';

/** Evidence as a sum that can be read: a bar of what speaks for it, grey for what speaks against, and a line each. */
export function EvidenceSum({ evidence }: { readonly evidence: readonly Evidence[] }) {
  const total = evidence.reduce((sum, item) => sum + Math.abs(item.weight), 0) || 1;
  const sum = evidence.reduce((all, item) => all + item.weight, 0);
  return (
    <div>
      <div aria-hidden className="mb-2 flex h-2.5 gap-px">
        {[...evidence]
          .sort((left, right) => right.weight - left.weight)
          .map((item) => (
            <span
              key={item.code}
              style={{ flexGrow: Math.abs(item.weight) / total }}
              className={item.weight >= 0 ? 'bg-found-deep' : 'bg-rule-strong'}
            />
          ))}
      </div>
      <table className="w-full text-[12.5px]">
        <tbody>
          {evidence.map((item) => (
            <tr key={item.code} className="border-b border-dotted border-rule">
              <td className="py-0.5 pr-2">{evidenceWords(item)}</td>
              <td className="py-0.5 text-right font-mono">{weightWords(item.weight)}</td>
            </tr>
          ))}
          <tr>
            <td className="py-0.5 pr-2 font-semibold">sum, in log-odds</td>
            <td className="py-0.5 text-right font-mono font-semibold">{weightWords(sum)}</td>
          </tr>
        </tbody>
      </table>
    </div>
  );
}
