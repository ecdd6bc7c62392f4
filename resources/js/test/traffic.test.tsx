import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, describe, expect, it } from 'vitest';
import { emptyDraft, type Draft } from '../experiments/draft';
import { followed, Traffic } from '../experiments/Traffic';

afterEach(cleanup);

const variants = (...weights: string[]): Draft['variants'] =>
    weights.map((weight, i) => ({ key: `v${i}`, name: i === 1 ? 'Short' : '', weight, control: i === 0, changes: [], target: '' }));

let last: Draft;
const tell = (draft: Draft): void => void (last = draft);

function Form({ share = '50', weights }: { share?: string; weights: string[] }) {
    const [draft, setDraft] = useState<Draft>({ ...emptyDraft(), share, variants: variants(...weights) });
    const set = (change: Partial<Draft>): void => {
        setDraft({ ...draft, ...change });
        tell({ ...draft, ...change });
    };

    return <Traffic draft={draft} set={set} />;
}

const slider = (name: string): HTMLElement => screen.getByRole('slider', { name });
const weights = (): string[] => last.variants.map(({ weight }) => weight);

describe('the traffic bar', () => {
    it('moves borders by keys, in ones and tens, and as far as they reach', () => {
        render(<Form weights={['40', '40', '20']} />);
        const border = slider('Border between v0 and Short');
        fireEvent.keyDown(border, { key: 'ArrowRight' });
        expect(weights()).toEqual(['41', '39', '20']);
        fireEvent.keyDown(border, { key: 'ArrowLeft', shiftKey: true });
        expect(weights()).toEqual(['31', '49', '20']);
        fireEvent.keyDown(border, { key: 'End' });
        expect(weights()).toEqual(['80', '0', '20']);
        fireEvent.keyDown(border, { key: 'Home' });
        expect(weights()).toEqual(['0', '80', '20']);
        fireEvent.keyDown(border, { key: 'x' });
        expect(weights()).toEqual(['0', '80', '20']);
    });

    it('says its figures to whoever hears it, and moves the share', () => {
        render(<Form weights={['90', '10']} />);
        expect(slider('Border between v0 and Short').getAttribute('aria-valuetext')).toBe('v0 90 per cent, Short 10 per cent');
        const end = slider('End of the share');
        expect([end.getAttribute('aria-valuenow'), end.getAttribute('aria-valuemax')]).toEqual(['50', '100']);
        fireEvent.keyDown(end, { key: 'ArrowLeft', shiftKey: true });
        expect(last.share).toBe('40');
        fireEvent.keyDown(end, { key: 'End' });
        expect(last.share).toBe('100');
        fireEvent.keyDown(end, { key: 'ArrowRight' });
        expect(last.share).toBe('100');
    });

    it('says what is missing from a hundred, and mends it', () => {
        render(<Form weights={['40', '40', '10']} />);
        expect(screen.getByText(/The weights make 90: 10 are missing/)).toBeTruthy();
        fireEvent.click(screen.getByRole('button', { name: 'Make them a hundred' }));
        expect(weights()).toEqual(['44.45', '44.44', '11.11']);
        fireEvent.click(screen.getByRole('button', { name: 'Make even' }));
        expect(weights()).toEqual(['33.34', '33.33', '33.33']);
    });

    it('draws nothing of what is no number', () => {
        render(<Form weights={['x', '50']} />);
        expect(screen.queryByRole('slider')).toBeNull();
        expect(screen.getByRole('button', { name: 'Make even' })).toBeTruthy();
    });
});

describe('a weight that is typed', () => {
    const typed = (from: string[], at: number, weight: string): string[] => {
        const all = variants(...from);

        return followed(all, at, { ...all[at], weight }).map((one) => one.weight);
    };

    it.each([
        [['50', '50'], 0, '90', ['90', '10']],
        [['50', '50'], 1, '33,3', ['66.7', '33,3']],
        [['50', '50'], 0, '', ['', '50']],
        [['50', '50'], 0, '140', ['140', '50']],
        [['40', '40', '20'], 0, '70', ['70', '40', '20']],
    ])('is followed by the other of two: %j, number %i becomes “%s”', (from, at, weight, then) => {
        expect(typed(from, at, weight)).toEqual(then);
    });
});
