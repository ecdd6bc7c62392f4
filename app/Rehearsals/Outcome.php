<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\Watch;
use Pellix\Core\Chain\Link;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Proof;
use Pellix\Core\Rehearsal\Screen;

/** What came of one part of a rehearsal. */
final class Outcome
{
    private const MOST_FINDINGS = 60;

    /** @var array<string, Finding> by what tells them apart */
    public array $findings = [];

    /** @var list<Proof> */
    public array $proofs = [];

    /** @var array<string, mixed> */
    public array $figures = [];

    public function found(?Finding $finding): bool
    {
        if ($finding !== null && count($this->findings) < self::MOST_FINDINGS) {
            $this->findings[$finding->identity()] ??= $finding;
        }

        return $finding !== null;
    }

    /** What a judge of the core says. */
    public function take(Finding|Proof ...$judged): void
    {
        foreach ($judged as $one) {
            if ($one instanceof Finding) {
                $this->found($one);
            } else {
                $this->proofs[] = $one;
            }
        }
    }

    public function proven(Link $link, string $words, ?string $variant = null, ?Screen $screen = null, ?string $goal = null): void
    {
        $this->proofs[] = new Proof($link, $words, $variant, $screen, $goal);
    }

    /** Whether a page came to an end before it was there: then there is nothing on it to be looked at. */
    public static function isBroken(Watch $watch): bool
    {
        return array_intersect(array_column($watch->notes, 'what'), ['crash', 'certificate', 'unreachable', 'large', 'loops']) !== [];
    }

    /** Whatever a page did that would end a visit, or that a person would have been asked about. */
    public function noteAll(Watch $watch, ?string $variant, ?Screen $screen): void
    {
        $told = [
            'crash' => [CheckCode::PageCrashed, 'The page crashed.', 'The process that draws it ended by itself.', 'See which script or picture takes so much memory.'],
            'certificate' => [CheckCode::PageCertificate, 'The page was not shown: its certificate is not valid.', null, 'Have the certificate mended; visitors are warned away.'],
            'unreachable' => [CheckCode::PageUnreachable, 'The page could not be loaded.', null, 'See whether the address is right and the server answers.'],
            'large' => [CheckCode::PageTooLarge, 'The page was stopped: it loads more than '.(Watch::MOST_BYTES / 1_000_000).' MB.', null, 'Have it made smaller; nobody waits for it.'],
            'loops' => [CheckCode::PageLoops, 'The page goes round in circles.', null, 'See what sends visitors on from there.'],
            'download' => [CheckCode::PageDownload, 'A download began instead of a page, or beside it; it was refused.', null, 'Nothing can be measured of a visitor who gets a file.'],
            'dialog' => [CheckCode::PageDialog, 'The page opened a box that stops everything; it was closed.', null, ''],
            'beforeunload' => [CheckCode::PageAsksToLeave, 'The page asks whether to leave it; the answer was yes.', null, ''],
            'permission' => [CheckCode::PageAsks, 'The page asks its visitor for a permission; nobody answered.', null, ''],
        ];
        foreach ($watch->notes as ['what' => $what, 'text' => $text]) {
            if (isset($told[$what])) {
                [$code, $words, $cause, $next] = $told[$what];
                $this->found(new Finding($code, $words, $cause ?? $text, $next, $variant, $screen));
            }
        }
        if ($watch->asksForWindows > 0 || $watch->windows > 0) {
            $this->found(new Finding(CheckCode::PageWindows, 'The page wants to open '.max($watch->asksForWindows, $watch->windows).' windows by itself; '.($watch->windows === 0 ? 'the browser kept all of them from opening.' : "{$watch->windows} opened, of which at most ".Browser\Chromium::MOST_WINDOWS.' were left.'), '', 'See which script opens them.', $variant, $screen));
        }
    }

    /** @return array{findings: list<array<string, mixed>>, proofs: list<array<string, mixed>>, figures: array<string, mixed>} */
    public function toArray(): array
    {
        return [
            'findings' => array_map(static fn (Finding $one): array => $one->toArray(), array_values($this->findings)),
            'proofs' => array_map(static fn (Proof $one): array => $one->toArray(), $this->proofs),
            'figures' => $this->figures,
        ];
    }
}
