/** What the ports of a surface or desk could not send or read; nothing while there is nothing to say. */
export function Dropped({ count }: { count: number }) {
  if (count === 0) return null;
  return (
    <span className="col-span-3 text-care" role="note">
      {count === 1
        ? "One message was dropped: it could not be sent, or was none."
        : `${count} messages were dropped: they could not be sent, or were none.`}
    </span>
  );
}
