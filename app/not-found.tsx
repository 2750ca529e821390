import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="ct-plain">
      <h1>This is not here</h1>
      <p>The shot or page that this address names does not exist, or no longer.</p>
      <p>
        <Link href="/">Go to the desk</Link>
      </p>
    </main>
  );
}
