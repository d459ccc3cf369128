namespace AtticLedger.Core.Register;

/// <summary>A cache for the last few keys. Safe for concurrent use; a value may be computed twice.</summary>
internal sealed class LastFew<TKey, TValue>(int most)
    where TKey : notnull
{
    private readonly Lock holding = new();
    private readonly LinkedList<(TKey Key, TValue Value)> latestFirst = new();
    private readonly Dictionary<TKey, LinkedListNode<(TKey Key, TValue Value)>> known = [];

    public TValue GetOrAdd(TKey key, Func<TKey, TValue> make)
    {
        lock (holding)
        {
            if (known.TryGetValue(key, out var node))
            {
                latestFirst.Remove(node);
                latestFirst.AddFirst(node);
                return node.Value.Value;
            }
        }

        var value = make(key);
        lock (holding)
        {
            if (!known.ContainsKey(key))
            {
                known[key] = latestFirst.AddFirst((key, value));
                if (known.Count > most)
                {
                    known.Remove(latestFirst.Last!.Value.Key);
                    latestFirst.RemoveLast();
                }
            }
        }

        return value;
    }
}
