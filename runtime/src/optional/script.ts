/** What changes of the kind script need; part of a site's file while one runs there (core/src/Wiring/RuntimeConfiguration.php). */
import { offer } from '../parts';
import { nonced } from '../nonce';

/** A script that keeps the page waiting for longer is reported. */
const LONGEST_MS = 1000;

/** What pages and Pellix itself rely on; a script that puts something else in its place is reported. */
const RELIED_ON = ['fetch', 'XMLHttpRequest', 'Promise', 'JSON', 'MutationObserver', 'addEventListener', 'setTimeout', 'pellix'] as const;

/** Runs a variant's script once. What it throws goes no further; returns what is wrong with it, if anything. */
function runScript(code: string): string | null {
    const global = window as unknown as Record<string, unknown>;
    const before = RELIED_ON.map((name) => global[name]);
    const begin = performance.now();
    let message: string | null = null;
    // What cannot be read as a script at all: listeners that the page has set up before hear of that, too.
    const caught = (event: ErrorEvent): void => {
        message ??= event.message;
        event.preventDefault();
        event.stopImmediatePropagation();
    };
    const element = nonced(document.createElement('script'));
    const own = element as HTMLScriptElement & { ran?: 1; error?: unknown };
    // A function of its own, so that its names are not the page's, and `return` is allowed.
    element.text = `(function(me){me.ran=1;try{(function(){${code}\n})()}catch(e){me.error=String(e)}})(document.currentScript)`;
    addEventListener('error', caught, true);
    try {
        document.head.append(element);
    } finally {
        removeEventListener('error', caught, true);
        element.remove();
    }
    if (own.error !== undefined) {
        message = own.error as string;
    } else if (message === null && !own.ran) {
        message = 'The policy of the page does not let it run.';
    }
    const took = performance.now() - begin;
    const redefined = RELIED_ON.filter((name, i) => global[name] !== before[i]);
    if (message === null && redefined.length > 0) {
        message = `It put something else in place of ${redefined.join(', ')}.`;
    }
    if (message === null && took > LONGEST_MS) {
        message = `It kept the page waiting for ${Math.round(took)} ms.`;
    }

    return message;
}

offer({ script: runScript });
