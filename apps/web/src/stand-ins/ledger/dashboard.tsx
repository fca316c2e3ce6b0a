import type { LedgerReportView, PlayerView } from '@lantern/contracts';
import { useState } from 'react';
import { useLedgerActs, useOpenedDashboard } from '../../data/ledger';
import { errorSentence } from '../../wording/errors';
import { DeedTold } from './deeds';

interface Props {
  readonly player: PlayerView;
  readonly report: LedgerReportView;
}

/** What a dashboard adds up, as bars beside their figures. Opening it is a movement. */
export function Dashboard({ player, report }: Props) {
  const acts = useLedgerActs(player.id);
  const [deed, setDeed] = useState<string | null>(null);
  const opened = useOpenedDashboard(player.id, deed);
  const failed = acts.openDashboard.error ?? opened.error;
  const { fields = [], rows } = opened.data ?? {};
  const most = Math.max(1, ...(rows ?? []).map((row) => Number.parseFloat(row[2] ?? '0')));
  return (
    <section aria-label={`Dashboard ${report.name}`} className="mb-5">
      <h2>{report.name}</h2>
      <p className="text-ink-2">{report.about}</p>
      <button
        type="button"
        className="mt-2 rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        disabled={acts.openDashboard.isPending}
        onClick={() =>
          acts.openDashboard.mutate({ report: report.id }, { onSuccess: ({ deed: { id } }) => setDeed(id) })
        }
      >
        Open dashboard
      </button>
      {failed !== null && (
        <p role="alert" className="mt-2 text-stop">
          {errorSentence(failed)}
        </p>
      )}
      {opened.data && <DeedTold player={player} deed={opened.data.deed} />}
      {rows && (
        <table className="mt-2 w-full">
          <thead>
            <tr className="text-left text-[12.5px] text-ink-2">
              {fields.map((field) => (
                <th key={field} className="py-1 pr-3 font-semibold">
                  {field}
                </th>
              ))}
              <th aria-label="Share of the largest" />
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row[0]} className="border-t border-rule">
                {row.map((cell, at) => (
                  <td key={at} className={`py-1 pr-3 ${at === 0 ? '' : 'text-right font-mono'}`}>
                    {cell}
                  </td>
                ))}
                <td className="w-1/3">
                  <span
                    aria-hidden
                    className="block h-3 bg-[var(--teal)]"
                    style={{ width: `${(100 * Number.parseFloat(row[2] ?? '0')) / most}%` }}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
