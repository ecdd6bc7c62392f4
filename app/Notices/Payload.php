<?php

declare(strict_types=1);

namespace App\Notices;

use App\Models\Delivery;
use App\Models\Notice;
use App\Models\Site;
use Pellix\Core\Formats\Moment;

/** What an address is sent; docs/formats.md has it. */
final class Payload
{
    /** @return array<string, mixed> */
    public function of(Delivery $delivery): array
    {
        $site = $delivery->site;

        return [
            'pellix' => 1,
            'kind' => $delivery->kind,
            'delivery' => $delivery->id,
            'at' => Moment::format($delivery->at),
            'site' => ['key' => $site->key, 'name' => $site->name],
            ...match ($delivery->kind) {
                'trouble' => ['trouble' => $delivery->notice === null ? null : self::trouble($site, $delivery->notice)],
                'digest' => ['digest' => $delivery->content],
                'test' => [],
            },
        ];
    }

    /** @return array<string, mixed> */
    public static function trouble(Site $site, Notice $notice): array
    {
        return [
            'notice' => $notice->id,
            'experiment' => $notice->experiment?->key,
            'name' => $notice->experiment?->name,
            'code' => $notice->code,
            'severity' => $notice->severity,
            'message' => $notice->message,
            'at' => Moment::format($notice->at),
            'over' => $notice->over_at === null ? null : Moment::format($notice->over_at),
            'url' => self::address($site, $notice),
        ];
    }

    public static function address(Site $site, Notice $notice): string
    {
        $root = rtrim((string) config('app.url'), '/')."/sites/{$site->key}";

        if ($notice->isDecision()) {
            return "{$root}/experiments/{$notice->experiment?->key}/readout";
        }

        return $notice->audit_id === null ? "{$root}/notices" : "{$root}/audits/{$notice->audit_id}?finding=".rawurlencode($notice->identity);
    }
}
