import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Table, type Column } from '../parts/Table';
import { NoResizeObserver } from './observer';

interface Line {
    key: string;
    hits: number | null;
}

const COLUMNS: Column<Line>[] = [
    { key: 'key', head: 'Key', sort: (line) => line.key, cell: (line) => line.key },
    { key: 'hits', head: 'Hits', numeric: true, sort: (line) => line.hits, cell: (line) => line.hits ?? 'none' },
    { key: 'note', head: 'Note', cell: () => 'as it is' },
];

const LINES: Line[] = [
    { key: 'page-10', hits: 3 },
    { key: 'page-9', hits: null },
    { key: 'Page-2', hits: 70 },
];

function keys(): string[] {
    return screen
        .getAllByRole('row')
        .slice(1)
        .map((row) => within(row).getAllByRole('cell')[0].textContent ?? '');
}

afterEach(cleanup);

describe('a table', () => {
    it('shows rows as they come, and sorts them by a heading: words as people count, numbers the largest first, what is missing last', () => {
        render(<Table label="Pages" columns={COLUMNS} rows={LINES} rowKey={(line) => line.key} />);
        expect(keys()).toEqual(['page-10', 'page-9', 'Page-2']);

        fireEvent.click(screen.getByRole('button', { name: 'Key' }));
        expect(keys()).toEqual(['Page-2', 'page-9', 'page-10']);
        expect(screen.getByRole('columnheader', { name: /Key/ }).getAttribute('aria-sort')).toBe('ascending');
        fireEvent.click(screen.getByRole('button', { name: /Key/ }));
        expect(keys()).toEqual(['page-10', 'page-9', 'Page-2']);

        fireEvent.click(screen.getByRole('button', { name: 'Hits' }));
        expect(keys()).toEqual(['Page-2', 'page-10', 'page-9']);
        fireEvent.click(screen.getByRole('button', { name: /Hits/ }));
        expect(keys()).toEqual(['page-10', 'Page-2', 'page-9']);
        expect(screen.queryByRole('button', { name: 'Note' })).toBeNull();
    });

    it('leaves the order to whoever sorts for it', () => {
        const asked = vi.fn();
        render(
            <Table
                label="Pages"
                columns={COLUMNS}
                rows={LINES}
                rowKey={(line) => line.key}
                order={{ by: 'key', descending: false }}
                onOrder={asked}
            />,
        );
        fireEvent.click(screen.getByRole('button', { name: /Key/ }));
        expect(asked).toHaveBeenCalledWith({ by: 'key', descending: true });
        expect(keys()).toEqual(['page-10', 'page-9', 'Page-2']);
    });

    it('is walked through with j and k, and opens with Enter', () => {
        const open = vi.fn();
        render(<Table label="Pages" columns={COLUMNS} rows={LINES} rowKey={(line) => line.key} onOpen={open} />);
        fireEvent.keyDown(document.body, { key: 'Enter' });
        expect(open).not.toHaveBeenCalled();
        'jjjjk'.split('').forEach((key) => fireEvent.keyDown(document.body, { key }));
        fireEvent.keyDown(document.body, { key: 'Enter' });
        expect(open.mock.calls).toEqual([[LINES[1]]]);
    });

    it('opens while it is walked through where it is told to, past rows that cannot be opened', () => {
        const open = vi.fn();
        render(
            <Table
                label="Pages"
                columns={COLUMNS}
                rows={LINES}
                rowKey={(line) => line.key}
                chosen="page-10"
                opensOnMove
                canOpen={(line) => line.hits !== null}
                onOpen={open}
            />,
        );
        fireEvent.keyDown(document.body, { key: 'j' });
        expect(open.mock.calls).toEqual([[LINES[2]]]);
    });
});

describe('a long table', () => {
    // Nothing has a size in jsdom.
    beforeEach(() => {
        vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(600);
        vi.spyOn(HTMLElement.prototype, 'offsetHeight', 'get').mockReturnValue(34);
        vi.spyOn(HTMLElement.prototype, 'getBoundingClientRect').mockReturnValue({ height: 34, width: 800 } as DOMRect);
        vi.stubGlobal('ResizeObserver', NoResizeObserver);
    });
    afterEach(() => {
        vi.restoreAllMocks();
        vi.unstubAllGlobals();
    });

    it('draws only the rows in sight, and says how many there are', async () => {
        const lines = Array.from({ length: 5000 }, (_, i): Line => ({ key: `page-${i}`, hits: i }));
        render(<Table label="Pages" columns={COLUMNS} rows={lines} rowKey={(line) => line.key} />);
        await act(async () => {});
        const drawn = document.querySelectorAll('tbody tr[data-index]').length;
        expect(drawn).toBeGreaterThan(5);
        expect(drawn).toBeLessThan(100);
        expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('5001');
        expect(screen.getByText('page-0').closest('tr')?.getAttribute('aria-rowindex')).toBe('2');
        expect(screen.queryByText('page-4999')).toBeNull();
    });
});
