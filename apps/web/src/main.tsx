import '@fontsource/ibm-plex-sans/latin-400.css';
import '@fontsource/ibm-plex-sans/latin-500.css';
import '@fontsource/ibm-plex-sans/latin-600.css';
import '@fontsource/ibm-plex-sans/greek-400.css';
import '@fontsource/ibm-plex-sans/greek-500.css';
import '@fontsource/ibm-plex-sans/greek-600.css';
import './index.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { yieldApi } from './api/yieldApi.ts';
import { App } from './app/App.tsx';
import { newStore } from './store/store.ts';

const root = document.getElementById('root');
if (root === null) throw new Error('the page has no root element');
const store = newStore();
// The tune is on its way while the frame is drawn; the view that shows it asks for the same.
const [, tuneId] = /^\/tunes\/([^/]+)/.exec(location.pathname) ?? [];
if (tuneId !== undefined) {
  const asked = store.dispatch(yieldApi.endpoints.readTune.initiate(tuneId));
  void asked.finally(() => asked.unsubscribe());
}
createRoot(root).render(
  <StrictMode>
    <Provider store={store}>
      <App />
    </Provider>
  </StrictMode>,
);
