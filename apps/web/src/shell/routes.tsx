import type { ComponentType } from 'react';
import { createBrowserRouter } from 'react-router';
import { IncidentsDesk } from '../screens/incidents/desk';
import { ErrorScreen, LostScreen } from './error-screen';
import { Frame } from './frame';
import { Home } from './home';
import { SignedIn } from './signed-in';

/** A screen that is loaded when it is first visited. */
function screen<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  return async () => ({ Component: (await load())[name] });
}

export const router = createBrowserRouter([
  {
    path: 'welcome/:token',
    errorElement: <ErrorScreen />,
    lazy: screen(() => import('./welcome'), 'Welcome'),
  },
  {
    path: 'question/:token',
    errorElement: <ErrorScreen />,
    lazy: screen(() => import('./question'), 'Question'),
  },
  {
    element: <SignedIn />,
    errorElement: <ErrorScreen />,
    children: [
      {
        element: <Frame />,
        children: [
          { index: true, element: <Home /> },
          {
            path: 'patterns',
            lazy: screen(() => import('../screens/patterns/patterns-list'), 'PatternsList'),
          },
          {
            path: 'patterns/new',
            lazy: screen(() => import('../screens/patterns/word-list-page'), 'WordListPage'),
          },
          {
            path: 'patterns/new-expression',
            lazy: screen(() => import('../screens/patterns/expression/expression-page'), 'NewExpressionPage'),
          },
          {
            path: 'patterns/new-documents',
            lazy: screen(() => import('../screens/patterns/documents/documents-page'), 'NewDocumentsPage'),
          },
          {
            path: 'patterns/new-records',
            lazy: screen(() => import('../screens/patterns/records/records-page'), 'NewRecordsPage'),
          },
          {
            path: 'patterns/:id',
            lazy: screen(() => import('../screens/patterns/pattern-page'), 'PatternPage'),
          },
          {
            path: 'discovery',
            lazy: screen(() => import('../screens/discovery/places/places-page'), 'PlacesPage'),
          },
          {
            path: 'discovery/runs',
            lazy: screen(() => import('../screens/discovery/runs/runs-page'), 'RunsPage'),
          },
          {
            path: 'discovery/items',
            lazy: screen(() => import('../screens/discovery/items/items-page'), 'ItemsPage'),
          },
          {
            path: 'discovery/machines',
            lazy: screen(() => import('../screens/discovery/machines/machines-page'), 'MachinesPage'),
          },
          {
            path: 'automations',
            lazy: screen(() => import('../screens/crossings/automations-page'), 'AutomationsPage'),
          },
          {
            path: 'automations/breaches',
            lazy: screen(() => import('../screens/crossings/breaches-page'), 'BreachesPage'),
          },
          {
            path: 'automations/sets',
            lazy: screen(() => import('../screens/crossings/sets-page'), 'SetsPage'),
          },
          {
            path: 'automations/services',
            lazy: screen(() => import('../screens/crossings/services-page'), 'ServicesPage'),
          },
          { path: 'labels', lazy: screen(() => import('../screens/labels/labels-list'), 'LabelsList') },
          {
            path: 'labels/offers',
            lazy: screen(() => import('../screens/labels/offers-page'), 'OffersPage'),
          },
          {
            path: 'labels/automatic',
            lazy: screen(() => import('../screens/labels/automatic-page'), 'AutomaticPage'),
          },
          { path: 'labels/runs', lazy: screen(() => import('../screens/labels/runs-page'), 'RunsPage') },
          {
            path: 'labels/changes',
            lazy: screen(() => import('../screens/labels/changes-page'), 'LabelChangesPage'),
          },
          {
            path: 'labels/review',
            lazy: screen(() => import('../screens/labels/review-page'), 'LabelReviewPage'),
          },
          { path: 'labels/:id', lazy: screen(() => import('../screens/labels/label-page'), 'LabelPage') },
          {
            path: 'policies',
            lazy: screen(() => import('../screens/policies/policies-list'), 'PoliciesList'),
          },
          {
            path: 'policies/texts',
            lazy: screen(() => import('../screens/policies/texts/texts-page'), 'TextsPage'),
          },
          {
            path: 'policies/exchanges',
            lazy: screen(() => import('../screens/policies/exchanges/exchanges-page'), 'ExchangesPage'),
          },
          {
            path: 'account',
            lazy: screen(() => import('../screens/own-account/own-account-page'), 'OwnAccountPage'),
          },
          {
            path: 'administration/accounts',
            lazy: screen(() => import('../screens/administration/accounts-page'), 'AccountsPage'),
          },
          {
            path: 'administration/roles',
            lazy: screen(() => import('../screens/administration/roles-page'), 'RolesPage'),
          },
          {
            path: 'administration/sign-on',
            lazy: screen(() => import('../screens/administration/sign-on-page'), 'SignOnPage'),
          },
          {
            path: 'administration/programs',
            lazy: screen(() => import('../screens/administration/programs-page'), 'ProgramsPage'),
          },
          {
            path: 'administration/directory',
            lazy: screen(() => import('../screens/directory/people-page'), 'PeoplePage'),
          },
          {
            path: 'administration/directory/groups',
            lazy: screen(() => import('../screens/directory/groups-page'), 'GroupsPage'),
          },
          {
            path: 'administration/directory/machines',
            lazy: screen(() => import('../screens/directory/machines-page'), 'MachinesPage'),
          },
          {
            path: 'administration/directory/import',
            lazy: screen(() => import('../screens/directory/import-page'), 'ImportPage'),
          },
          {
            path: 'administration/directory/organisation',
            lazy: screen(() => import('../screens/directory/organisation-page'), 'OrganisationPage'),
          },
          {
            path: 'first-steps',
            lazy: screen(() => import('../screens/first-steps/first-steps-page'), 'FirstStepsPage'),
          },
          {
            path: 'administration/retention',
            lazy: screen(() => import('../screens/administration/retention-page'), 'RetentionPage'),
          },
          {
            path: 'administration/trail',
            lazy: screen(() => import('../screens/administration/trail-page'), 'TrailPage'),
          },
          { path: 'doors', lazy: screen(() => import('../screens/doors/doors-page'), 'DoorsPage') },
          {
            path: 'policies/spots',
            lazy: screen(() => import('../screens/policies/spots/spots-page'), 'SpotsPage'),
          },
          {
            path: 'policies/packs',
            lazy: screen(() => import('../screens/policies/packs-page'), 'PacksPage'),
          },
          {
            path: 'policies/coverage',
            lazy: screen(() => import('../screens/coverage/coverage-page'), 'CoveragePage'),
          },
          {
            path: 'policies/replay',
            lazy: screen(() => import('../screens/replay/replay-page'), 'ReplayPage'),
          },
          {
            path: 'incidents/waiting',
            lazy: screen(() => import('../screens/waiting/waiting-page'), 'WaitingPage'),
          },
          {
            path: 'incidents/routing',
            lazy: screen(() => import('../screens/routing/routing-page'), 'RoutingPage'),
          },
          {
            path: 'policies/:id',
            lazy: screen(() => import('../screens/policies/policy-page'), 'PolicyPage'),
          },
          { path: 'publish', lazy: screen(() => import('../screens/policies/publish-page'), 'PublishPage') },
          {
            path: 'insight',
            lazy: screen(() => import('../screens/insight/changes/changes-page'), 'ChangesPage'),
          },
          {
            path: 'insight/rules',
            lazy: screen(() => import('../screens/insight/rules/rules-page'), 'RulesPage'),
          },
          {
            path: 'insight/most',
            lazy: screen(() => import('../screens/insight/most/most-page'), 'MostPage'),
          },
          {
            path: 'insight/guard',
            lazy: screen(() => import('../screens/insight/guard/guard-page'), 'GuardPage'),
          },
          {
            path: 'insight/improve',
            lazy: screen(() => import('../screens/insight/improve/improve-page'), 'ImprovePage'),
          },
          {
            path: 'insight/reports',
            lazy: screen(() => import('../screens/insight/reports/reports-page'), 'ReportsPage'),
          },
          {
            path: 'insight/weights/:pattern',
            lazy: screen(() => import('../screens/insight/weights/weights-page'), 'WeightsPage'),
          },
          {
            path: 'insight/prevent',
            lazy: screen(() => import('../screens/insight/prevent/prevent-page'), 'PreventPage'),
          },
          { path: 'incidents', element: <IncidentsDesk /> },
          { path: 'incidents/:number', element: <IncidentsDesk /> },
          { path: '*', element: <LostScreen /> },
        ],
      },
      {
        path: 'stand-ins/documents',
        lazy: screen(() => import('../stand-ins/documents/documents-window'), 'DocumentsWindow'),
      },
      {
        path: 'stand-ins/documents/:person',
        lazy: screen(() => import('../stand-ins/documents/documents-window'), 'DocumentsWindow'),
      },
      {
        path: 'stand-ins/ledger',
        lazy: screen(() => import('../stand-ins/ledger/ledger-window'), 'LedgerWindow'),
      },
      {
        path: 'stand-ins/ledger/:player',
        lazy: screen(() => import('../stand-ins/ledger/ledger-window'), 'LedgerWindow'),
      },
      {
        path: 'stand-ins/automations',
        lazy: screen(() => import('../stand-ins/automations/builder-window'), 'BuilderWindow'),
      },
      {
        path: 'stand-ins/automations/:player',
        lazy: screen(() => import('../stand-ins/automations/builder-window'), 'BuilderWindow'),
      },
      {
        path: 'stand-ins/drive',
        lazy: screen(() => import('../stand-ins/drive/drive-window'), 'DriveWindow'),
      },
      {
        path: 'stand-ins/drive/:player',
        lazy: screen(() => import('../stand-ins/drive/drive-window'), 'DriveWindow'),
      },
      {
        path: 'stand-ins/drive/link/:token',
        lazy: screen(() => import('../stand-ins/drive/drive-window'), 'DriveLinkWindow'),
      },
      {
        path: 'stand-ins/drive/link/:token/:player',
        lazy: screen(() => import('../stand-ins/drive/drive-window'), 'DriveLinkWindow'),
      },
      { path: 'stand-ins/post', lazy: screen(() => import('../stand-ins/post/post-window'), 'PostWindow') },
      { path: 'stand-ins/chat', lazy: screen(() => import('../stand-ins/chat/chat-window'), 'ChatWindow') },
      {
        path: 'stand-ins/chat/:player',
        lazy: screen(() => import('../stand-ins/chat/chat-window'), 'ChatWindow'),
      },
      {
        path: 'stand-ins/browser',
        lazy: screen(() => import('../stand-ins/desk/browser-window'), 'BrowserWindow'),
      },
      {
        path: 'stand-ins/browser/:player',
        lazy: screen(() => import('../stand-ins/desk/browser-window'), 'BrowserWindow'),
      },
      {
        path: 'stand-ins/desktop',
        lazy: screen(() => import('../stand-ins/desk/desktop-window'), 'DesktopWindow'),
      },
      {
        path: 'stand-ins/desktop/:player',
        lazy: screen(() => import('../stand-ins/desk/desktop-window'), 'DesktopWindow'),
      },
      { path: 'stand-ins/mail', lazy: screen(() => import('../stand-ins/mail/mail-window'), 'MailWindow') },
      {
        path: 'stand-ins/mail/:person',
        lazy: screen(() => import('../stand-ins/mail/mail-window'), 'MailWindow'),
      },
    ],
  },
]);
