import { useNavigate } from 'react-router';
import { useSignOut } from '../api/queries';
import { Button, ButtonLink } from '../parts/Button';
import { Door } from './Door';

/** For whoever has signed in and looks after nothing. */
export function NoSite({ name, makesSites }: { name: string; makesSites: boolean }) {
    const signOut = useSignOut();
    const navigate = useNavigate();

    return (
        <Door>
            <h2 className="mb-3 text-lg font-semibold">No site yet</h2>
            {makesSites ? (
                <p className="mb-4">
                    {name}, make the first one: its pages, its time zone, its currency. A few steps along the chain follow.
                </p>
            ) : (
                <p className="mb-4">{name}, you look after no site. Ask whoever owns one to invite you; their link brings you there.</p>
            )}
            <div className="flex gap-3">
                {makesSites && (
                    <ButtonLink look="main" to="/new-site">
                        Make a site
                    </ButtonLink>
                )}
                <Button onClick={() => signOut.mutate(undefined, { onSettled: () => navigate('/sign-in') })}>Sign out</Button>
            </div>
        </Door>
    );
}
