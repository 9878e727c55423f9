/** What speaks against an entry; what was typed stays where it is. */
export function Wrong({ problem }: { problem: { message: string } | null }) {
  if (!problem) return null;
  return (
    <p role="alert" className="border-suspect border-l-4 pl-3">
      {problem.message} What you entered is kept here.
    </p>
  );
}
