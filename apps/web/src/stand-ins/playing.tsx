import type { PlayerView } from '@lantern/contracts';
import type { ReactNode } from 'react';
import { Navigate, useLocation, useNavigate, useParams } from 'react-router';
import { useLiveUpdates } from '../data/live';
import { useMay } from '../data/session';
import { usePlayers } from '../data/things';
import { Loading, Notice } from '../ui/notice';
import { errorSentence } from '../wording/errors';
import { StandInFrame } from './stand-in-frame';

interface Props {
  /** Which program it plays, and where it stands below /stand-ins. */
  readonly name: string;
  readonly path: string;
  /** People outside can be played too. */
  readonly outsideToo?: boolean;
  readonly children: (player: PlayerView) => ReactNode;
}

/** A stand-in with somebody who plays in it, chosen by the address of the page. */
export function Playing({ name, path, outsideToo = false, children }: Props) {
  useLiveUpdates();
  const { player: id = '' } = useParams();
  const players = usePlayers();
  const navigate = useNavigate();
  const { search } = useLocation();
  const may = useMay('stand-ins.use');
  const all = (players.data ?? []).filter(({ outside }) => outsideToo || !outside);
  const frame = (player: PlayerView | null, content: ReactNode) => (
    <StandInFrame
      name={name}
      played={player}
      players={all}
      onPlay={(next) => void navigate(`/stand-ins/${path}/${encodeURIComponent(next)}`)}
    >
      {content}
    </StandInFrame>
  );
  if (!may) return frame(null, <Notice look="stop">Your account may not use the stand-ins.</Notice>);
  if (players.isPending) return <Loading what="the people" />;
  if (players.isError) return <Notice look="stop">{errorSentence(players.error)}</Notice>;
  const first = all.find((candidate) => candidate.name === 'Orla Fenwick') ?? all[0];
  if (!first)
    return frame(
      null,
      <p className="p-6">
        The directory is empty, so no person can be chosen. Start with the demo to try this.
      </p>,
    );
  const player = all.find((candidate) => candidate.id === id);
  if (!player) return <Navigate to={`/stand-ins/${path}/${first.id}${search}`} replace />;
  return frame(
    player,
    <div key={player.id} className="flex min-h-0 flex-1">
      {children(player)}
    </div>,
  );
}
