/** Opens the QR code of an address of ours, to be printed or shown. */
export function QrLink({ address, children = 'QR' }: { address: string; children?: string }) {
  const { pathname, search } = new URL(address);
  return (
    <a
      className="link"
      href={`/api/v1/qr.svg?path=${encodeURIComponent(pathname + search)}`}
      target="_blank"
      rel="noreferrer"
      aria-label={`QR code of ${address}`}
    >
      {children}
    </a>
  );
}
