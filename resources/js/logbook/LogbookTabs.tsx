import { useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Tabs } from '../parts/Tabs';

/** The parts of the Logbook; who got in and who was refused is for owners. */
export function LogbookTabs() {
    const site = useSiteKey();

    return useRight(site) === 'own' ? (
        <Tabs
            label="Logbook"
            tabs={[
                { to: address.logbook(site), label: 'What was changed', end: true },
                { to: address.securityLog(site), label: 'Who got in' },
            ]}
        />
    ) : null;
}
