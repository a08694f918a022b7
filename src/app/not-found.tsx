import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="mx-auto max-w-2xl p-10">
      <h1 className="text-xl font-semibold">There is nothing at this address.</h1>
      <p className="quiet mt-2">The character may have been added on another machine, or the link was cut short.</p>
      <Link className="btn mt-4 btn-primary btn-sm" href="/">
        Go to the roster
      </Link>
    </main>
  );
}
