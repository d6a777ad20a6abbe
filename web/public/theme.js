// Before the first paint: the theme the user chose, else the system's.
;(function () {
  var chosen = null
  try {
    chosen = localStorage.getItem('theme')
  } catch {
    // no storage: the system decides
  }
  var dark = chosen ? chosen === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches
  document.documentElement.dataset.theme = dark ? 'dark' : 'light'
})()
