import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import '@mellow-abacus/charts/tokens.css'
import './desk.css'
import { App } from './app'

const place = document.getElementById('desk')
if (place === null) throw new Error('the page has no place for the desk')
createRoot(place).render(
  <StrictMode>
    <App />
  </StrictMode>,
)
