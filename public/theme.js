// Before anything is drawn: the theme that was chosen here.
const theme = localStorage.getItem('theme')
if (theme) document.documentElement.dataset.theme = theme
