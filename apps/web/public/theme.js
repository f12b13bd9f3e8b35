// Before the first paint, so that a dark garage is not lit up by a white page.
(function () {
  let stored = null;
  try {
    stored = localStorage.getItem('yield.theme');
  } catch {
    // a browser that keeps nothing still gets a theme
  }
  const dark = window.matchMedia('(prefers-color-scheme: dark)').matches;
  document.documentElement.dataset.theme = stored || (dark ? 'garage' : 'daylight');
})();
