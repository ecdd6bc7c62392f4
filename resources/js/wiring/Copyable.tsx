import { useState } from 'react';
import { Button } from '../parts/Button';

/** A piece of code, with a button that copies exactly that. */
export function Copyable({ text, name }: { text: string; name: string }) {
    const [copied, setCopied] = useState('');
    const copy = async (): Promise<void> => {
        try {
            await navigator.clipboard.writeText(text);
            setCopied('Copied');
        } catch {
            setCopied('The browser did not allow it: select the text and copy it yourself');
        }
    };

    return (
        <figure className="mt-3 border border-line bg-leaf">
            <pre className="overflow-x-auto p-4 font-mono text-sm leading-5.5" tabIndex={0} aria-label={`Code of the ${name}`}>
                {text}
            </pre>
            <figcaption className="flex items-center gap-4 border-t border-line px-4 py-2">
                <Button look="main" onClick={copy}>
                    Copy the {name}
                </Button>
                <span role="status">{copied}</span>
            </figcaption>
        </figure>
    );
}
