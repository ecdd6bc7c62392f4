<h1 id="welcome">Borrow an instrument the way you borrow a book</h1>
<p class="lead">Six shelves, two repair benches and a room where nobody minds wrong notes. Members take an instrument home for a month at a time.</p>
<p><a class="button" id="browse" href="/catalogue">See what is on the shelves</a></p>
<?php return 'Welcome';
