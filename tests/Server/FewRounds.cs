using System.Runtime.CompilerServices;
using AtticLedger.Server.Identity;

namespace AtticLedger.Server.Tests;

/// <summary>The tests sign in about a thousand times: their passwords are hashed in fewer rounds than the product's.</summary>
internal static class FewRounds
{
    public const int Rounds = 2000;

    [ModuleInitializer]
    internal static void Hash() => Passwords.HashInRounds(Rounds);
}
