import { createBrowserRouter, Navigate } from 'react-router';
import { IncidentsDesk } from '../screens/incidents/desk';
import { NewDocumentsPage } from '../screens/patterns/documents/documents-page';
import { NewExpressionPage } from '../screens/patterns/expression/expression-page';
import { NewRecordsPage } from '../screens/patterns/records/records-page';
import { PatternPage } from '../screens/patterns/pattern-page';
import { PatternsList } from '../screens/patterns/patterns-list';
import { WordListPage } from '../screens/patterns/word-list-page';
import { AutomaticPage } from '../screens/labels/automatic-page';
import { LabelChangesPage } from '../screens/labels/changes-page';
import { LabelPage } from '../screens/labels/label-page';
import { LabelsList } from '../screens/labels/labels-list';
import { OffersPage } from '../screens/labels/offers-page';
import { LabelReviewPage } from '../screens/labels/review-page';
import { RunsPage } from '../screens/labels/runs-page';
import { PacksPage } from '../screens/policies/packs-page';
import { PoliciesList } from '../screens/policies/policies-list';
import { PolicyPage } from '../screens/policies/policy-page';
import { PublishPage } from '../screens/policies/publish-page';
import { CoveragePage } from '../screens/coverage/coverage-page';
import { ExchangesPage } from '../screens/policies/exchanges/exchanges-page';
import { DoorsPage } from '../screens/doors/doors-page';
import { SpotsPage } from '../screens/policies/spots/spots-page';
import { TextsPage } from '../screens/policies/texts/texts-page';
import { ReplayPage } from '../screens/replay/replay-page';
import { WaitingPage } from '../screens/waiting/waiting-page';
import { DriveLinkWindow, DriveWindow } from '../stand-ins/drive/drive-window';
import { PostWindow } from '../stand-ins/post/post-window';
import { ChatWindow } from '../stand-ins/chat/chat-window';
import { BrowserWindow } from '../stand-ins/desk/browser-window';
import { DesktopWindow } from '../stand-ins/desk/desktop-window';
import { DocumentsWindow } from '../stand-ins/documents/documents-window';
import { MailWindow } from '../stand-ins/mail/mail-window';
import { ErrorScreen, LostScreen } from './error-screen';
import { Frame } from './frame';
import { SignedIn } from './signed-in';

export const router = createBrowserRouter([
  {
    element: <SignedIn />,
    errorElement: <ErrorScreen />,
    children: [
      {
        element: <Frame />,
        children: [
          { index: true, element: <Navigate to="/incidents" replace /> },
          { path: 'patterns', element: <PatternsList /> },
          { path: 'patterns/new', element: <WordListPage /> },
          { path: 'patterns/new-expression', element: <NewExpressionPage /> },
          { path: 'patterns/new-documents', element: <NewDocumentsPage /> },
          { path: 'patterns/new-records', element: <NewRecordsPage /> },
          { path: 'patterns/:id', element: <PatternPage /> },
          { path: 'labels', element: <LabelsList /> },
          { path: 'labels/offers', element: <OffersPage /> },
          { path: 'labels/automatic', element: <AutomaticPage /> },
          { path: 'labels/runs', element: <RunsPage /> },
          { path: 'labels/changes', element: <LabelChangesPage /> },
          { path: 'labels/review', element: <LabelReviewPage /> },
          { path: 'labels/:id', element: <LabelPage /> },
          { path: 'policies', element: <PoliciesList /> },
          { path: 'policies/texts', element: <TextsPage /> },
          { path: 'policies/exchanges', element: <ExchangesPage /> },
          { path: 'doors', element: <DoorsPage /> },
          { path: 'policies/spots', element: <SpotsPage /> },
          { path: 'policies/packs', element: <PacksPage /> },
          { path: 'policies/coverage', element: <CoveragePage /> },
          { path: 'policies/replay', element: <ReplayPage /> },
          { path: 'incidents/waiting', element: <WaitingPage /> },
          { path: 'policies/:id', element: <PolicyPage /> },
          { path: 'publish', element: <PublishPage /> },
          { path: 'incidents', element: <IncidentsDesk /> },
          { path: 'incidents/:number', element: <IncidentsDesk /> },
          { path: '*', element: <LostScreen /> },
        ],
      },
      { path: 'stand-ins/documents', element: <DocumentsWindow /> },
      { path: 'stand-ins/documents/:person', element: <DocumentsWindow /> },
      { path: 'stand-ins/drive', element: <DriveWindow /> },
      { path: 'stand-ins/drive/:player', element: <DriveWindow /> },
      { path: 'stand-ins/drive/link/:token', element: <DriveLinkWindow /> },
      { path: 'stand-ins/drive/link/:token/:player', element: <DriveLinkWindow /> },
      { path: 'stand-ins/post', element: <PostWindow /> },
      { path: 'stand-ins/chat', element: <ChatWindow /> },
      { path: 'stand-ins/chat/:player', element: <ChatWindow /> },
      { path: 'stand-ins/browser', element: <BrowserWindow /> },
      { path: 'stand-ins/browser/:player', element: <BrowserWindow /> },
      { path: 'stand-ins/desktop', element: <DesktopWindow /> },
      { path: 'stand-ins/desktop/:player', element: <DesktopWindow /> },
      { path: 'stand-ins/mail', element: <MailWindow /> },
      { path: 'stand-ins/mail/:person', element: <MailWindow /> },
    ],
  },
]);
