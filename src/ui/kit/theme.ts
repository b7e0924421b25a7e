/** The theme is a cookie, so that the server sends the right one at once. */
export const THEME_COOKIE = 'scaphos_theme';
export type Theme = 'chartroom' | 'nightwatch';

export function currentTheme(): Theme {
  return document.documentElement.dataset.theme === 'nightwatch' ? 'nightwatch' : 'chartroom';
}

export function switchTheme(): void {
  const next: Theme = currentTheme() === 'chartroom' ? 'nightwatch' : 'chartroom';
  document.documentElement.dataset.theme = next;
  // biome-ignore lint/suspicious/noDocumentCookie: one small cookie of our own, no store needed
  document.cookie = `${THEME_COOKIE}=${next}; path=/; max-age=31536000; samesite=lax`;
  window.dispatchEvent(new Event('scaphos-theme'));
}
