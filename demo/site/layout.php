<?php /** @var string $title @var string $snippet @var string $content @var callable $e @var string $path */ ?>
<!DOCTYPE html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <?= $snippet, "\n" ?>
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
    <footer>Larkhollow and everything in it is made up. Its pages carry a Pellix snippet and stand in for a real site.</footer>
</body>
</html>
