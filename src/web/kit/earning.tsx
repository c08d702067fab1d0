/** What somebody earns by a product: by an order or the first payment, and by its renewals where there are any. */
export function Earning({ of: { reward, renewals } }: { of: { reward: string; renewals: string } }) {
  return (
    <>
      <b className="font-semibold">{reward}</b>
      {renewals && <>, renewals {renewals}</>}
    </>
  );
}
