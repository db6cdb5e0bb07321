import '@fontsource/atkinson-hyperlegible/latin-400.css'
import '@fontsource/atkinson-hyperlegible/latin-700.css'
import '@fontsource/jetbrains-mono/latin-400.css'
import '@fontsource/jetbrains-mono/latin-700.css'
import './elementStyles'
import './theme.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { onNotLetIn } from './api/client'
import { router } from './router'

onNotLetIn(() => {
  const { name, fullPath } = router.currentRoute.value
  if (name !== 'enter' && name !== 'join') void router.replace({ name: 'enter', query: { to: fullPath } })
})

createApp(App).use(createPinia()).use(router).mount('#app')
