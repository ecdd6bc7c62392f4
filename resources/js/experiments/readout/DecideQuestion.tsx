import { useState } from 'react';
import type { Experiment, Site } from '../../api/client';
import { useDecide } from '../../api/readout';
import { Choice } from '../../parts/Choice';
import { fieldErrors } from '../../parts/fieldErrors';
import { Field, TextArea } from '../../parts/Field';
import { Question } from '../../parts/Question';

interface Props {
    site: Site;
    experiment: Experiment;
    proposal: { choice: string; because: string } | null;
    onClose: () => void;
}

/** Which variant is kept, why, what was learned; what runs ends with it. */
export function DecideQuestion({ site, experiment, proposal, onClose }: Props) {
    const decide = useDecide(site.key, experiment.key);
    const control = experiment.variants.find(({ control }) => control)?.key ?? experiment.variants[0].key;
    const [choice, setChoice] = useState(proposal?.choice ?? control);
    const [because, setBecause] = useState(proposal?.because ?? '');
    const [learned, setLearned] = useState('');
    const [serves, setServes] = useState<'site' | 'variant'>('variant');
    const errors = fieldErrors(decide.error);
    const runs = experiment.state === 'running' || experiment.state === 'paused';
    const isChange = choice !== control;

    return (
        <Question
            open
            title={`Decide “${experiment.name}”`}
            yes={runs ? 'Decide and end it' : 'Decide'}
            danger={runs}
            busy={decide.isPending}
            error={decide.error && Object.keys(errors).length === 0 ? decide.error.message : undefined}
            onYes={() =>
                decide.mutate(
                    { choice, because, learned: learned.trim() || null, serves: isChange && serves === 'variant' },
                    { onSuccess: onClose },
                )
            }
            onNo={onClose}
        >
            <Field label="Kept is" error={errors.choice}>
                <Choice
                    label="Kept is"
                    value={choice}
                    options={experiment.variants.map(({ key, name }) => ({ value: key, label: name }))}
                    onChange={setChoice}
                />
            </Field>
            <TextArea
                label="Because"
                value={because}
                maxLength={2000}
                rows={3}
                error={errors.because}
                onChange={(event) => setBecause(event.target.value)}
            />
            <TextArea
                label="What was learned"
                note="For whoever searches for it in a year."
                value={learned}
                maxLength={5000}
                error={errors.learned}
                onChange={(event) => setLearned(event.target.value)}
            />
            {isChange && (
                <Field label="From now on visitors see" error={errors.serves}>
                    <Choice
                        label="From now on visitors see"
                        value={serves}
                        options={[
                            { value: 'variant', label: 'this variant, everybody, until the site itself does it' },
                            { value: 'site', label: 'the page as it is in the site' },
                        ]}
                        onChange={setServes}
                    />
                </Field>
            )}
            {runs && <p>The experiment ends: nobody enters any more, and it cannot be started again.</p>}
        </Question>
    );
}
