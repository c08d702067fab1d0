import '@fontsource-variable/hanken-grotesk/index.css';
import '@fontsource-variable/source-serif-4/index.css';
import '@fontsource/ibm-plex-mono/400.css';
import '../styles.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Toaster } from 'sonner';
import { ProgrammeContext } from '../kit/programme';
import { acts } from './acts';
import { fields } from './fields';
import { lists } from './lists';
import { material } from './material';
import { Shown } from './shown';

const programme = {
  name: 'Quernstone Clayworks',
  base: 'EUR',
  zone: 'Europe/Lisbon',
  demo: true,
  now: Date.parse('2027-03-12T10:00:00Z'),
};

/** Every part of the kit in every state, for those who build with it: made in development and tests only. */
createRoot(document.getElementById('root')!).render(
  <QueryClientProvider client={new QueryClient()}>
    <ProgrammeContext value={programme}>
      <BrowserRouter>
        <main className="h-full overflow-auto px-6 py-4">
          <h1>The kit</h1>
          {[...acts, ...fields, ...lists, ...material].map((piece) => (
            <Shown key={piece.file} {...piece} />
          ))}
        </main>
      </BrowserRouter>
      <Toaster />
    </ProgrammeContext>
  </QueryClientProvider>,
);
