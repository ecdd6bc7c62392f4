<?php
/**
 * Stands in for a payment page that somebody else serves: no script of ours may run there, only an image be shown.
 *
 * @var string   $path
 * @var string   $pixel  the site's image pixel, with its places still to be filled in
 * @var string   $origin
 * @var callable $e
 */
$text = static fn (string $name): string => is_string($_GET[$name] ?? null) ? (string) $_GET[$name] : '';
$amount = in_array($text('amount'), ['20', '40', '80'], true) ? $text('amount') : '20';
$visitor = preg_match('/\A[a-z0-9]{20,40}\z/', $text('visitor')) === 1 ? $text('visitor') : '';
$order = preg_match('/\AG-[0-9]{6}\z/', $text('order')) === 1 ? $text('order') : '';
header("Content-Security-Policy: default-src 'none'; img-src *; style-src 'unsafe-inline'; form-action *");
?>
<!DOCTYPE html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title>Tollgate payments (made up)</title>
    <style>body { font: 17px/1.6 Verdana, sans-serif; max-width: 32rem; margin: 3rem auto; padding: 0 1rem; color: #222 } button { font: inherit; padding: .5rem 1.2rem }</style>
</head>
<body>
<?php if ($path === '/thanks' && $order !== ''): ?>
    <h1>Paid</h1>
    <p>Your number is <strong><?= $e($order) ?></strong>. <a href="<?= $e($origin) ?>/">Back to Larkhollow</a></p>
    <?= strtr($pixel, ['{VISITOR}' => $e($visitor), '{ORDER}' => $e($order), '{VALUE}' => $e($amount), '{CURRENCY}' => 'EUR']) ?>
<?php else: ?>
    <h1>Pay <?= $e($amount) ?> euros</h1>
    <form action="/thanks">
        <input type="hidden" name="amount" value="<?= $e($amount) ?>">
        <input type="hidden" name="visitor" value="<?= $e($visitor) ?>">
        <input type="hidden" name="order" value="G-<?= sprintf('%06d', random_int(0, 999_999)) ?>">
        <button id="pay">Pay</button>
    </form>
<?php endif ?>
</body>
</html>
