<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * How one change of a variant stood on one screen, as a browser met it.
 *
 * @phpstan-type Element array{path: string, holds: bool, visible: bool, hidden: 'off'|'clipped'|'picture'|'colour'|null, display: string, visibility: string, opacity: string, box: array{0: int, 1: int, 2: int, 3: int}, text: string, cover: array{path: string, position: string, z: string}|null}
 * @phpstan-type Moment array{stand: string, found: int, understood: bool, elements: list<Element>, rules: list<array{selector: string, properties: list<string>, found: int}>}
 */
final readonly class ChangeSeen
{
    /**
     * @param int                                  $number     of the change, from 1
     * @param list<array{0: float, 1: string}>     $turns      milliseconds since the navigation, and how it stood from then on
     * @param array<string, Moment>                $moments    when it was looked at, in words => what was seen, in the order of time
     * @param list<array{element: string, loser: Declaration, winner: Declaration}> $outranked declarations of the variant that another one outranks
     * @param list<array{element: string, property: string, wanted: string, is: string, by: string|null}> $unheeded what outranks everything else and is not what the element shows: an animation, or a script, by name where that is known
     * @param list<string>                         $unread     declarations of the variant that the browser does not understand
     * @param list<string>                         $styleless  classes that are added and that no rule asks for
     * @param string|null                          $failed     what the runtime said went wrong
     * @param string|null                          $culprit    where the page's own code took it away, where that is known
     * @param string|null                          $refused    what the page's policy said of styles that were put in
     * @param bool                                 $seenInControl whether the same element can be seen in the control on this screen
     */
    public function __construct(
        public int $number,
        public array $turns,
        public array $moments,
        public array $outranked = [],
        public array $styleless = [],
        public ?string $failed = null,
        public ?string $culprit = null,
        public bool $seenInControl = true,
        public array $unheeded = [],
        public array $unread = [],
        public ?string $refused = null,
    ) {
    }

    /**
     * The same, with what took it away: of all that touched the element in another visit, what did so nearest to the moment.
     *
     * @param list<array{by: string, at: float}> $touched where in the page's code, and milliseconds since the navigation
     */
    public function takenBy(array $touched): self
    {
        $taken = $this->takenBack();
        $lost = $this->lostAfter()[0] ?? end($taken);
        if ($lost === false || $touched === []) {
            return $this;
        }
        usort($touched, static fn (array $a, array $b): int => abs($a['at'] - $lost) <=> abs($b['at'] - $lost));

        return new self($this->number, $this->turns, $this->moments, $this->outranked, $this->styleless, $this->failed, $touched[0]['by'], $this->seenInControl, $this->unheeded, $this->unread, $this->refused);
    }

    /** Milliseconds after which it was made; null where it never was. */
    public function madeAfter(): ?float
    {
        foreach ($this->turns as [$at, $state]) {
            if ($state === 'made') {
                return $at;
            }
        }

        return null;
    }

    /** @return list<float> milliseconds after which the page took it back, each time */
    public function takenBack(): array
    {
        $times = [];
        $made = false;
        foreach ($this->turns as [$at, $state]) {
            $made && $state !== 'made' && $times[] = $at;
            $made = $state === 'made';
        }

        return $times;
    }

    /** @return array{0: float, 1: string}|null since when it has not been as it was made, and how it stood then */
    public function lostAfter(): ?array
    {
        $made = false;
        $lost = null;
        foreach ($this->turns as [$at, $state]) {
            $made = $made || $state === 'made';
            $lost = $made && $state !== 'made' ? ($lost ?? [$at, $state]) : null;
        }

        return $lost;
    }
}
