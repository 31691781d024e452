// Sets the colour scheme before the first paint; its own file, so that no inline script is needed.
(function () {
  var chosen = localStorage.getItem('plenzo-scheme') || 'system';
  var dark = chosen === 'dark' || (chosen === 'system' && matchMedia('(prefers-color-scheme: dark)').matches);
  document.documentElement.setAttribute('data-scheme', dark ? 'dark' : 'light');
})();
