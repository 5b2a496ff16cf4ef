import { useEffect, useState } from 'react'
import { askServer, type ServerHere } from '../book/arrival'

/** The workbooks of the server that the page came from; nothing where it came from elsewhere. */
export function BooksHere({ known, onOpen }: { known: ServerHere | null; onOpen: (here: ServerHere, name: string) => void }) {
  const [here, setHere] = useState<ServerHere | 'closed' | null>(known)
  const [isRefused, setRefused] = useState(false)
  useEffect(() => {
    if (known === null) void askServer(null).then(setHere)
    else setHere(known)
  }, [known])
  if (here === null) return null
  if (here === 'closed')
    return (
      <form
        className="books-here"
        onSubmit={(event) => {
          event.preventDefault()
          const token = String(new FormData(event.currentTarget).get('token')).trim()
          void askServer(token).then((answer) => {
            setRefused(answer === 'closed')
            setHere(answer)
          })
        }}
      >
        <h2>On this server</h2>
        <p className="soft">
          Its workbooks are shown to those who have a token. A page that mellow desk opened is asked for in the terminal again.
        </p>
        <label>
          Your token <input type="password" name="token" autoComplete="off" required />
        </label>
        <button type="submit">Come in</button>
        {isRefused && (
          <p role="alert" className="card error">
            This token is none, or good no more. Ask who runs the server for one: mellow token … add
          </p>
        )}
      </form>
    )
  if (here.books.length === 0) return known === null ? <p className="soft">There is no workbook on this server yet.</p> : null
  return (
    <section className="books-here">
      <h2>On this server</h2>
      <ul>
        {here.books.map(({ name, role }) => (
          <li key={name}>
            <button type="button" onClick={() => onOpen(here, name)}>
              {name} <small>{role}</small>
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
