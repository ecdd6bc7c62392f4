import { useLocation } from 'react-router';
import { address, useSiteKey } from '../app/address';
import { Tabs } from '../parts/Tabs';

/** The parts of Measures. */
export function MeasuresTabs() {
    const site = useSiteKey();
    const onGoal = useLocation().pathname.includes('/measures/goals/');

    return (
        <Tabs
            label="Measures"
            tabs={[
                { to: address.goals(site), label: 'Goals', end: !onGoal },
                { to: address.feed(site), label: 'Live feed' },
                { to: address.events(site), label: 'Tracking plan' },
                { to: address.capture(site), label: 'What is captured' },
            ]}
        />
    );
}
