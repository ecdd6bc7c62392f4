import { useParams } from 'react-router';
import { address, useSiteKey } from '../app/address';
import { Tabs } from '../parts/Tabs';
import { useTitle } from '../parts/useTitle';
import { CodesPart } from './CodesPart';
import { PasswordPart } from './PasswordPart';
import { SessionsPart } from './SessionsPart';
import { TokensPart } from './TokensPart';

/** One's own account: it is the same on every site. */
export function AccountPage() {
    const site = useSiteKey();
    const { part } = useParams();
    useTitle('Your account');

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <h1 className="mb-1 text-xl font-semibold">Your account</h1>
            <Tabs
                label="Your account"
                tabs={[
                    { to: address.account(site), label: 'Name and password', end: true },
                    { to: address.account(site, 'codes'), label: 'One-time codes' },
                    { to: address.account(site, 'sessions'), label: 'Where you are signed in' },
                    { to: address.account(site, 'tokens'), label: 'Tokens' },
                ]}
            />
            {part === 'codes' ? (
                <CodesPart />
            ) : part === 'sessions' ? (
                <SessionsPart />
            ) : part === 'tokens' ? (
                <TokensPart />
            ) : (
                <PasswordPart />
            )}
        </div>
    );
}
