import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import './tokens.css'
import './desk.css'
import { openDemoBook } from './book/demo-book'
import { Desk } from './desk'

const place = document.getElementById('desk')
if (place === null) throw new Error('the page has no place for the desk')
createRoot(place).render(
  <StrictMode>
    <Desk book={openDemoBook()} />
  </StrictMode>,
)
