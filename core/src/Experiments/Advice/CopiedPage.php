<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

use Pellix\Core\Pages\PageCopy;
use Pellix\Core\Pages\SheetDeclaration;

/** A page that an experiment is for, as it was inspected, with what its style sheets say. */
final readonly class CopiedPage
{
    /** @param list<SheetDeclaration> $sheets in the order in which the page has them */
    public function __construct(public string $url, public PageCopy $copy, public array $sheets = [])
    {
    }
}
