namespace AtticLedger.Hosts;

/// <summary>A host's response cannot be processed. The message names what and where.</summary>
public class HostException(string message, Exception? inner = null) : Exception(message, inner);

/// <summary>A list cannot continue from its bookmark; it can be restarted.</summary>
public sealed class BeginAgainException(string message) : HostException(message);
