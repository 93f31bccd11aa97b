import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { App } from './App';
import { Problem } from './api/client';
import { applyTheme } from './frame/theme';
import { ErrorBoundary } from './ui/ErrorBoundary';
import { NoticesProvider } from './ui/Notices';
import { TipProvider } from './ui/Tip';
import './styles.css';

applyTheme();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // What the server answered on purpose is not asked again; a silent server is.
      retry: (failures, error) =>
        failures < 3 && !(error instanceof Problem && error.status >= 400 && error.status < 500),
    },
  },
});

const root = document.getElementById('root');
if (!root) throw new Error('The page has no root element.');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <NoticesProvider>
          <TipProvider>
            <ErrorBoundary>
              <App />
            </ErrorBoundary>
          </TipProvider>
        </NoticesProvider>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
