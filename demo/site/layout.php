<?php /** @var string $title @var string $inHead @var string $inBody @var string $content @var callable $e @var string $path */ ?>
<!DOCTYPE html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <script>window.shelf = window.shelf || []</script>
    <?= $inHead, "\n" ?>
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title><?= $e($title) ?> – Larkhollow Instrument Library</title>
    <link rel="stylesheet" href="/larkhollow.css">
</head>
<body>
    <header>
        <a class="mark" href="/">Larkhollow <span>Instrument Library</span></a>
        <nav>
            <?php foreach (['/catalogue' => 'Catalogue', '/loan' => 'Borrow', '/workshops' => 'Workshops', '/join' => 'Join', '/donate' => 'Donate'] as $to => $label): ?>
                <a href="<?= $to ?>"<?= str_starts_with($path, $to) ? ' aria-current="page"' : '' ?>><?= $label ?></a>
            <?php endforeach ?>
        </nav>
    </header>
    <main><?= $content ?></main>
    <footer><a href="/about">About</a> · <a href="/hours">Hours</a> · <a href="/press">Press</a><br>Larkhollow and everything in it is made up. Its pages carry a Pellix snippet and stand in for a real site.</footer>
    <?= $inBody ?>
</body>
</html>
