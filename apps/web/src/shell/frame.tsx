import { STAND_INS } from './stand-ins';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, NavLink, Outlet } from 'react-router';
import type { OverviewView, Permission } from '@lantern/contracts';
import { useLiveUpdates } from '../data/live';
import { heardByDesk } from '../stores/desk-store';
import { useOverview, useSession, useSignOut } from '../data/session';
import { LanternPanel } from '../lantern/tab';
import { useLantern } from '../stores/lantern-store';
import { useTheme } from '../stores/theme-store';
import { AREAS } from './areas';
import { CommandList } from './command-list';
import { KeyHelp } from './key-help';

/** The workbench: the strip of work areas on top, the screen, and the Lantern at the right edge of every one. */
export function Frame() {
  useLiveUpdates(heardByDesk);
  const [commands, setCommands] = useState(false);
  const [keys, setKeys] = useState(false);
  const toggleLantern = useLantern((state) => state.toggle);
  useHotkeys('mod+k', () => setCommands(true), { preventDefault: true, enableOnFormTags: true });
  useHotkeys('shift+slash, ?', () => setKeys(true), { useKey: true });
  // The key that pulls it out must not end up in the text it focuses.
  useHotkeys('l', toggleLantern, { preventDefault: true });
  return (
    <div className="flex h-screen flex-col overflow-hidden">
      <a
        href="#screen"
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2"
      >
        Skip to content
      </a>
      <Strip openCommands={() => setCommands(true)} />
      <div className="flex min-h-0 flex-1">
        <main id="screen" tabIndex={-1} className="min-w-0 flex-1 overflow-hidden outline-none">
          <Outlet />
        </main>
        <LanternPanel />
      </div>
      <CommandList open={commands} onOpenChange={setCommands} showKeys={() => setKeys(true)} />
      <KeyHelp open={keys} onOpenChange={setKeys} />
    </div>
  );
}

function Strip({ openCommands }: { readonly openCommands: () => void }) {
  const overview = useOverview();
  const session = useSession();
  return (
    <header className="strip flex h-12 shrink-0 items-stretch gap-0.5 bg-[var(--strip)] px-3.5 text-[var(--strip-text)]">
      <Link
        to="/"
        className="mr-4 flex items-center gap-2 font-head text-[16px] font-semibold tracking-tight"
      >
        <LanternMark />
        Uncut Lantern
      </Link>
      <nav aria-label="Work areas" className="flex">
        {AREAS.filter(({ needs }) => session.data?.account.permissions.includes(needs)).map((area) => (
          <NavLink
            key={area.to}
            to={area.to}
            className={({ isActive }) =>
              `flex flex-col justify-center border-y-[3px] border-t-transparent px-3 leading-tight ${isActive ? 'border-b-[var(--strip-text)] bg-[var(--strip-on)]' : 'border-b-transparent hover:bg-[var(--strip-on)]'}`
            }
          >
            {area.name}
            <small className="text-[11px] text-[var(--strip-dim)]">
              {overview.data ? area.figure(overview.data) : '…'}
            </small>
          </NavLink>
        ))}
      </nav>
      <span className="flex-1" />
      <button
        type="button"
        onClick={openCommands}
        className="flex items-center gap-6 self-center rounded border border-[#4b5566] px-2.5 py-1 text-[12.5px] text-[var(--strip-dim)]"
      >
        Search or run a command
        <kbd className="rounded-[3px] border border-b-2 border-[#5c6575] px-1 py-0.5 font-mono text-[11px] leading-none">
          Ctrl K
        </kbd>
      </button>
      <RevisionMark overview={overview.data} />
      <AccountMenu />
    </header>
  );
}

function RevisionMark({ overview }: { readonly overview: OverviewView | undefined }) {
  if (!overview) return null;
  const changed = overview.patterns.changed + overview.labels.changed + overview.policies.changed;
  const revision = overview.revision ? `revision ${overview.revision.number}` : 'nothing published';
  return (
    <Link
      to="/publish"
      className="ml-2.5 self-center rounded bg-[#3a4252] px-2.5 py-1 text-[12.5px] text-white"
    >
      {changed > 0
        ? `${changed} changed, ${revision}`
        : `${revision[0]?.toUpperCase() ?? ''}${revision.slice(1)}`}
    </Link>
  );
}

function AccountMenu() {
  const { data } = useSession();
  const signOut = useSignOut();
  const { theme, toggle } = useTheme();
  const may = (permission: Permission) => data?.account.permissions.includes(permission) ?? false;
  const item =
    'block w-full cursor-pointer rounded px-2.5 py-1.5 text-left outline-none data-highlighted:bg-press-soft';
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="ml-2 px-2 text-[12.5px]">
        {data?.account.name ?? ''}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 w-60 rounded border border-rule-strong bg-sheet p-1 text-ink shadow-lg"
        >
          {STAND_INS.map(([to, name]) => (
            <DropdownMenu.Item key={to} asChild>
              <Link className={item} to={to}>
                Stand-in: {name}
              </Link>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 border-t border-rule" />
          <DropdownMenu.Item asChild>
            <Link className={item} to="/account">
              Your account
            </Link>
          </DropdownMenu.Item>
          {may('accounts.manage') && (
            <DropdownMenu.Item asChild>
              <Link className={item} to="/administration/accounts">
                Accounts and roles
              </Link>
            </DropdownMenu.Item>
          )}
          {may('people.manage') && (
            <DropdownMenu.Item asChild>
              <Link className={item} to="/administration/directory">
                Directory
              </Link>
            </DropdownMenu.Item>
          )}
          {may('journal.set') && (
            <DropdownMenu.Item asChild>
              <Link className={item} to="/administration/retention">
                Retention
              </Link>
            </DropdownMenu.Item>
          )}
          {may('trail.read') && (
            <DropdownMenu.Item asChild>
              <Link className={item} to="/administration/trail">
                Audit trail
              </Link>
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item asChild>
            <Link className={item} to="/doors">
              Agents and channels
            </Link>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={toggle}>
            {theme === 'light' ? 'Dark colours' : 'Light colours'}
          </DropdownMenu.Item>
          <DropdownMenu.Item asChild>
            <a className={item} href="/api/docs" target="_blank" rel="noreferrer">
              API reference
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => signOut.mutate()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function LanternMark() {
  return (
    <svg aria-hidden viewBox="0 0 15 19" className="h-[19px] w-[15px]">
      <path d="M4 5 7.5 1 11 5M2 5.5h11L11.5 18h-8z" fill="none" stroke="currentColor" strokeWidth="1.6" />
      <path d="M7.5 8.5C10 11.5 10 15 7.5 15.5 5 15 5 11.5 7.5 8.5Z" fill="#f0a830" />
    </svg>
  );
}
