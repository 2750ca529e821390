'use client';

import { Button } from 'antd';

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <main className="ct-plain">
      <h1>The house does not answer just now</h1>
      <p>The database or the server is away for a moment. Nothing is lost that was stored.</p>
      <Button type="primary" onClick={reset}>
        Try again
      </Button>
    </main>
  );
}
