using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;

namespace AtticLedger.Server.Identity;

/// <summary>How passwords are hashed, and which can be chosen.</summary>
public static class Passwords
{
    public const int Shortest = 12;
    public const int Longest = 1000;

    /// <summary>Rounds of PBKDF2 with HMAC-SHA512, as OWASP's cheat sheet on password storage recommends them.</summary>
    public const int Rounds = 210_000;
    private static PasswordHasher<object> hasher = HasherOf(Rounds);
    private static readonly object Nobody = new();
    private static readonly Lazy<HashSet<string>> Common = new(() =>
    {
        using var list = new StreamReader(typeof(Passwords).Assembly.GetManifestResourceStream("common-passwords.txt")!);
        return list.ReadToEnd()
            .Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
    });

    /// <summary>Fewer rounds, for tests that sign in a thousand times.</summary>
    internal static void HashInRounds(int rounds) => hasher = HasherOf(rounds);

    private static PasswordHasher<object> HasherOf(int rounds) =>
        new(
            Options.Create(
                new PasswordHasherOptions
                {
                    CompatibilityMode = PasswordHasherCompatibilityMode.IdentityV3,
                    IterationCount = rounds,
                }
            )
        );

    public static string Hash(string password) => hasher.HashPassword(Nobody, password);

    /// <param name="isWeak">True if it was hashed with fewer rounds than now: it has to be hashed again.</param>
    public static bool Verify(string hash, string password, out bool isWeak)
    {
        var result = hasher.VerifyHashedPassword(Nobody, hash, password);
        isWeak = result == PasswordVerificationResult.SuccessRehashNeeded;
        return result != PasswordVerificationResult.Failed;
    }

    /// <summary>Why a password cannot be chosen, as a sentence; null if it can.</summary>
    /// <param name="own">The person's name and mail address.</param>
    public static string? Fault(string password, params IEnumerable<string> own) =>
        password.Length is < Shortest or > Longest
            ? $"The password has {password.Length} characters; it needs {Shortest} to {Longest}."
        : password.Contains('\0', StringComparison.Ordinal) ? "The password has a NUL character. Remove it."
        : Common.Value.Contains(password) || password.Distinct().Count() < 4
            ? "This password is too common. Choose another, for instance four unrelated words."
        : own.Any(word => word.Length > 0 && password.Equals(word, StringComparison.OrdinalIgnoreCase))
            ? "The password is your own name or mail address. Choose another."
        : null;
}
