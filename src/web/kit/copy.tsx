import { toast } from 'sonner';

/** Copies a text and says so. */
export function Copy({ text, children = 'copy' }: { text: string; children?: string }) {
  return (
    <button
      type="button"
      className="link"
      aria-label={`Copy ${text}`}
      onClick={(event) => {
        event.stopPropagation();
        navigator.clipboard.writeText(text).then(
          () => toast('Copied'),
          () => toast.error('The browser did not let it be copied; select it by hand'),
        );
      }}
    >
      {children}
    </button>
  );
}
