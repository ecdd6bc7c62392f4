import type { ReactNode } from 'react';
import { useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Tabs } from '../parts/Tabs';
import { useTitle } from '../parts/useTitle';

/** The parts of Notices; webhooks are the owner's. */
export function Frame({ title, children }: { title: string; children: ReactNode }) {
    const site = useSiteKey();
    const isOwner = useRight(site) === 'own';
    useTitle(`${title}, notices`);

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <h1 className="mb-1 text-xl font-semibold">Notices</h1>
            <Tabs
                label="Notices"
                tabs={[
                    { to: address.notices(site), label: 'Troubles', end: true },
                    { to: address.notices(site, 'settings'), label: 'Who is told what' },
                    ...(isOwner ? [{ to: address.notices(site, 'webhooks'), label: 'Webhooks' }] : []),
                    { to: address.notices(site, 'told'), label: 'What was told' },
                    { to: address.notices(site, 'outbox'), label: 'Outbox' },
                ]}
            />
            {children}
        </div>
    );
}
