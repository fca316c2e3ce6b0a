import { Link } from 'react-router';
import { Phone } from './phone';
import { PlayedContext } from './played';

/** Somebody who is played. */
export interface Played {
  readonly id: string;
  readonly name: string;
  /** Department and office, or the organisation outside. */
  readonly from: string;
}

interface Props {
  /** Which program it plays. */
  readonly name: string;
  readonly played: Played | null;
  readonly players: readonly Played[];
  readonly onPlay: (id: string) => void;
  readonly children: React.ReactNode;
}

/** The frame around every simulated program, so that nobody takes it for the workbench. */
export function StandInFrame({ name, played, players, onPlay, children }: Props) {
  return (
    <div className="stand-in flex h-screen flex-col">
      <header className="flex h-9 shrink-0 items-center gap-4 bg-[var(--teal)] px-4 text-[12.5px] text-[#e8f3ef]">
        <b>Stand-in: {name}</b>
        {played && (
          <span>
            You are {played.name}, {played.from}
          </span>
        )}
        <span className="flex-1" />
        {played && !played.id.includes('@') && <Phone key={played.id} player={played.id} />}
        {played && (
          <label className="flex items-center gap-2">
            Switch person
            <select
              className="max-w-52 rounded border border-[#86aea4] bg-[var(--teal)] px-1 py-0.5"
              value={played.id}
              onChange={(event) => onPlay(event.target.value)}
            >
              {players.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}, {each.from}
                </option>
              ))}
            </select>
          </label>
        )}
        <Link to="/incidents" className="underline">
          Back to the workbench
        </Link>
      </header>
      <main className="mx-auto mt-6 mb-8 flex min-h-0 w-full max-w-[1160px] flex-1 flex-col overflow-hidden rounded-t-md border border-[var(--teal-line)] bg-white">
        <PlayedContext value={played?.id ?? ''}>{children}</PlayedContext>
      </main>
    </div>
  );
}
