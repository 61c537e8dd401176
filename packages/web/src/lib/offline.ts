import { registerSW } from 'virtual:pwa-register';
import { useNotices } from '../stores/notices.ts';

/** The page works without its server from the second visit on; parts that cannot be loaded say so. */
export function workOffline(): void {
  window.addEventListener('vite:preloadError', (event) => {
    event.preventDefault();
    useNotices().trouble(
      'A part of the page could not be loaded: its server does not answer. Nothing is lost; start it ' +
        'and try again.',
    );
  });
  registerSW({
    onNeedRefresh: () =>
      useNotices().done(
        'A newer version of Bright Ferry is here. It is used once every page of it was closed.',
        false,
      ),
    // Without it the page works as long as its server does: a browser that refuses is no trouble by itself.
    onRegisterError: () => undefined,
  });
}
