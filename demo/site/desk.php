<?php /** @var string $snippet the booking desk: an application on a single page, on a host of its own */ ?>
<!DOCTYPE html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <script>window.shelf = window.shelf || []</script>
    <?= $snippet, "\n" ?>
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title>Booking desk – Larkhollow Instrument Library</title>
    <link rel="stylesheet" href="/larkhollow.css">
</head>
<body>
<header><a class="mark" href="/">Larkhollow <span>Booking desk</span></a></header>
<main id="desk"></main>
<footer>Larkhollow and everything in it is made up. The desk moves from view to view without loading a page.</footer>
<script>
    const views = {
        '/': '<h1>Book a bench</h1><p class="lead">Six repair benches, two hours each.</p><button class="button" data-to="/bench">Choose a bench</button>',
        '/bench': '<h1>Which bench</h1><p><button class="button" data-to="/booked">The one by the window</button></p>',
        '/booked': '<h1>It is yours</h1><p class="lead">Bring the instrument, and a cloth.</p><p class="late" hidden></p>',
    };
    function draw() {
        document.getElementById('desk').innerHTML = views[location.pathname] || views['/'];
        if (location.pathname === '/booked') {
            window.shelf.push({ event: 'bench.booked', booking: { bench: 'window', deposit: 15 } });
        }
    }
    document.addEventListener('click', function (event) {
        const to = event.target.dataset && event.target.dataset.to;
        if (to) {
            history.pushState({}, '', to);
            draw();
        }
    });
    addEventListener('popstate', draw);
    draw();
</script>
</body>
</html>
