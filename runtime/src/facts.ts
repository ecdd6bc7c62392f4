import { browser, device } from './agent';
import { addressFacts, valueAt, type Facts } from './rules';
import type { Props } from './types';

/** What one event tells, as core/src/Rules/EventFacts.php reads it. */
export interface Told {
    name: string;
    url: string;
    props: Props;
    referrer: string | null;
    agent: string | null;
}

export function eventFacts({ name, url, props, referrer, agent }: Told): Facts {
    const address = addressFacts(url);

    return (fact) => {
        if (fact.startsWith('url.')) {
            return address(fact);
        }
        if (fact.startsWith('event.props.')) {
            return valueAt(props, fact.slice(12));
        }
        switch (fact) {
            case 'event.name':
                return name || null;
            case 'referrer.host':
                return (referrer && addressFacts(referrer)('url.host')) || null;
            // A segment that stands in the properties counts more than what the user agent suggests.
            case 'device':
                return valueAt(props, 'device') ?? (agent === null ? null : device(agent));
            case 'browser':
                return valueAt(props, 'browser') ?? (agent === null ? null : browser(agent));
            default:
                return null;
        }
    };
}
