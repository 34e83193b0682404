// They wait for the database half of the time.
[assembly: CollectionBehavior(MaxParallelThreads = 4)]
