import { Popover } from 'radix-ui';
import { Copy } from '../../kit/copy';

export function JoinAddress({ address }: { address: string }) {
  return (
    <span className="text-ink2">
      Join address <span className="font-mono text-[12px]">{address.replace(/^https?:\/\//, '')}</span>{' '}
      <Copy text={address} /> ·{' '}
      <Popover.Root>
        <Popover.Trigger className="link">QR</Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={6}
            className="z-50 rounded-sm border border-rule bg-sheet p-3 shadow-float"
          >
            <img
              alt={`QR code of ${address}`}
              width={180}
              height={180}
              src={`/api/v1/qr.svg?path=${encodeURIComponent(new URL(address).pathname)}`}
            />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </span>
  );
}
