import { loadPatterns } from 'mellow-abacus'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import '@mellow-abacus/charts/tokens.css'
import './desk.css'
import { openDemoBook } from './book/demo-book'
import { Desk } from './desk'

const place = document.getElementById('desk')
if (place === null) throw new Error('the page has no place for the desk')
// What runs patterns is a part of its own: a formula may have one from the start.
await loadPatterns()
createRoot(place).render(
  <StrictMode>
    <Desk book={openDemoBook()} />
  </StrictMode>,
)
