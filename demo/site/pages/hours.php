<h1>When the doors are open</h1>
<p class="lead">Tuesday to Saturday from ten to six, and on the first Thursday of the month until the last note.</p>
<?php return 'Hours';
