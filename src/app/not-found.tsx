import Link from 'next/link'

export default function NotFound() {
  return (
    <main className="quiet-page">
      <h1>There is nothing at this address.</h1>
      <p>
        It may have been removed. <Link href="/">Go to Today</Link> and choose again.
      </p>
    </main>
  )
}
