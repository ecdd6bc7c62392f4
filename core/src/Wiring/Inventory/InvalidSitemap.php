<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inventory;

use Pellix\Core\InvalidInput;

/** A file that is no sitemap. */
final class InvalidSitemap extends InvalidInput
{
}
