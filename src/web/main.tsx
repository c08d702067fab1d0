import { ById } from './kit/by-id';
import '@fontsource-variable/hanken-grotesk/index.css';
import '@fontsource-variable/source-serif-4/index.css';
import '@fontsource/ibm-plex-mono/400.css';
import './styles.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { Toaster } from 'sonner';
import { Refused } from './kit/api';
import { Skeleton } from './kit/place';
// a veil that is drawn stays drawn on every page of the tab
import './kit/veil';

const Desk = lazy(() => import('./desk/desk'));
const Portal = lazy(() => import('./portal/portal'));
const AnswerPage = lazy(() => import('./public/answer'));
const JoinPage = lazy(() => import('./public/join'));
const AcceptPage = lazy(() => import('./public/accept'));
const OfferPage = lazy(() => import('./public/offer'));
const TermsPage = lazy(() => import('./public/terms'));
const LettersPage = lazy(() => import('./public/letters'));
const NewPasswordPage = lazy(() => import('./desk/signin').then((m) => ({ default: m.NewPasswordPage })));
const AsAffiliate = lazy(() => import('./portal/as'));

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, fault) =>
        count < 2 && !(fault instanceof Refused && fault.problem.status >= 400 && fault.problem.status < 500),
      refetchOnWindowFocus: true,
    },
  },
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Suspense fallback={<Skeleton />}>
          <Routes>
            <Route path="/join/:code?" element={<JoinPage />} />
            <Route path="/answer/:token" element={<AnswerPage />} />
            <Route path="/accept/:token" element={<AcceptPage />} />
            <Route path="/offers/:slug" element={<OfferPage />} />
            <Route path="/policy-for-affiliates" element={<TermsPage />} />
            <Route path="/letters/:token" element={<LettersPage />} />
            <Route
              path="/as/:id/*"
              element={<ById kind="affiliate" page={AsAffiliate} otherwise={<Navigate to="/as" replace />} />}
            />
            <Route path="/password" element={<NewPasswordPage />} />
            <Route path="/portal/*" element={<Portal />} />
            <Route path="/*" element={<Desk />} />
          </Routes>
        </Suspense>
      </BrowserRouter>
      <Toaster
        position="bottom-right"
        toastOptions={{
          duration: 10_000,
          style: {
            borderRadius: 3,
            border: '1px solid var(--color-rule)',
            background: 'var(--color-sheet)',
            color: 'var(--color-ink)',
            fontFamily: 'var(--font-sans)',
            boxShadow: 'var(--shadow-float)',
          },
        }}
      />
    </QueryClientProvider>
  </StrictMode>,
);
