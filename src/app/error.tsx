'use client'

/** Whatever went wrong, no stack is shown; it is in the log. */
export default function ErrorPage({ reset }: { reset: () => void }) {
  return (
    <main className="quiet-page">
      <h1>Something went wrong on this screen.</h1>
      <p>What was saved is safe. Try again; if it happens again, tell whoever runs the studio what you were doing.</p>
      <button type="button" onClick={reset}>
        Try again
      </button>
    </main>
  )
}
