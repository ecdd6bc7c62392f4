import { address, useSiteKey } from '../app/address';
import { Tabs } from '../parts/Tabs';

/** The parts of Wiring. */
export function WiringTabs() {
    const site = useSiteKey();

    return (
        <Tabs
            label="Wiring"
            tabs={[
                { to: address.wiring(site), label: 'Snippet and guard', end: true },
                { to: address.tags(site), label: 'Tags' },
                { to: address.published(site), label: 'Published' },
                { to: address.coverage(site), label: 'Coverage' },
                { to: address.installation(site), label: 'A/A rehearsal' },
                { to: address.groups(site), label: 'What must stand where' },
                { to: address.briefs(site), label: 'Hand-off briefs' },
                { to: address.inspect(site), label: 'Inspect a page' },
            ]}
        />
    );
}
