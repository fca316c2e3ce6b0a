import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { Toaster } from 'sonner';
import { ApiError } from './data/client';
import { router } from './shell/routes';
import './stores/theme-store';
import './styles.css';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // A refusal stays one; only an unreachable server is worth asking again.
      retry: (count, error) => count < 2 && !(error instanceof ApiError && error.code !== 'internal'),
      staleTime: 5_000,
    },
  },
});

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        {/* What is chosen shows at once: as a transition, letters typed meanwhile went into the form that was leaving. */}
        <RouterProvider router={router} useTransitions={false} />
        <Toaster position="bottom-center" toastOptions={{ style: { fontFamily: 'inherit' } }} />
      </QueryClientProvider>
    </StrictMode>,
  );
}
