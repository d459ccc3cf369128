/** Said in the place of all that is computed of a site, where nothing can be. */
export function Fault({ why }: { why: string }) {
  return (
    <div role="alert" className="mt-3 border-l-[3px] border-madder bg-madder-pale px-3 py-1.5 text-[13px]">
      <p className="font-bold">Nothing can be computed of this site.</p>
      <p className="mt-1 break-words">The server says: {why}</p>
      <p className="mt-1">
        Nothing is done to it from here meanwhile, and a read of its host changes nothing of it. Whoever runs the server
        finds the whole of it in the server&rsquo;s log. All other sites stand.
      </p>
    </div>
  );
}
