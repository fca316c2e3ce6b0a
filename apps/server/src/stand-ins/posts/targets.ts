import type { TargetView } from '@lantern/contracts';
import type { Spot } from '@lantern/core/movement';

const target = (id: string, name: string, over: Partial<TargetView>): TargetView => ({
  id,
  name,
  about: '',
  kind: 'program',
  host: null,
  encrypted: true,
  device: null,
  trusted: true,
  records: [],
  unwatched: '',
  ...over,
});

/** Sites of the browser stand-in: one of each kind that rules tell apart. */
export const SITES: readonly TargetView[] = [
  target('marlow', 'Ask Marlow', {
    kind: 'site',
    host: 'chat.askmarlow.example',
    about: 'An assistant that keeps what people enter.',
    trusted: false,
  }),
  target('pigeonpost', 'Pigeonpost', {
    kind: 'site',
    host: 'mail.pigeonpost.example',
    about: 'A private mailbox.',
    trusted: false,
  }),
  target('harbour-form', 'Harbour notice form', {
    kind: 'site',
    host: 'forms.portoffice.example',
    about: 'A form of a port office, over an unencrypted connection.',
    encrypted: false,
    trusted: false,
  }),
  target('broker-portal', 'Customs portal', {
    kind: 'site',
    host: 'portal.customs-broker.example',
    about: 'The form of the customs broker.',
    trusted: false,
  }),
  target('intranet', 'Notices of the house', {
    kind: 'site',
    host: 'intranet.merrowstrait.example',
    about: 'Pages of our own.',
  }),
];

/** Programs and devices of the desktop stand-in. */
export const DESKTOP: readonly TargetView[] = [
  target('booking', 'Booking system', { about: 'Bookings with names, cards and passports.' }),
  target('manifest', 'Manifest editor', { about: 'Who travels on which crossing.' }),
  target('notes', 'Notes', { about: 'A plain text editor.' }),
  target('crane', 'Crane control', {
    about: 'Runs the cranes of the quay.',
    unwatched: 'This program draws its own windows. Typing in it cannot be monitored; copying can.',
  }),
  target('stick-blue', 'Blue stick', {
    kind: 'device',
    device: 'plugged-in',
    trusted: false,
    about: 'A removable drive of unknown origin.',
  }),
  target('stick-house', 'Company USB drive', {
    kind: 'device',
    device: 'plugged-in',
    about: 'Handed out by Information Systems, encrypted.',
  }),
  target('printer-office', 'Office printer', { kind: 'device', device: 'printer', about: 'Second floor.' }),
  target('printer-quay', 'Printer at the quay', {
    kind: 'device',
    device: 'printer',
    trusted: false,
    about: 'Belongs to the port and stores what it prints.',
  }),
  target('share-pilot', 'Share of the pilot station', {
    kind: 'device',
    device: 'other-machine',
    trusted: false,
    about: 'A folder on a machine that is not managed.',
  }),
  target('burner', 'Disc burner', {
    kind: 'device',
    device: 'disc',
    about: 'Data on a disc cannot be recalled.',
  }),
  target('far-end', 'Remote computer', {
    kind: 'device',
    device: 'session-end',
    trusted: false,
    about:
      'This desktop is used from a computer at home. Its clipboard and drives take data out of the session.',
  }),
  target('screen', 'Screenshot', {
    kind: 'device',
    device: 'screen-picture',
    about: 'Puts a picture of the screen into the clipboard.',
  }),
];

/** Where a target stands for rules. */
export function spotOf({ kind, name, host, device, trusted }: TargetView): Spot {
  if (kind === 'site') return { kind: 'host', host: host ?? '' };
  if (kind === 'device') return { kind: 'device', device: (device ?? 'plugged-in') as never, name, trusted };
  return { kind: 'application', name };
}
