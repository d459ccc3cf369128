global using AtticLedger.StandIns;
global using Xunit;

[assembly: AssemblyFixture(typeof(AtticLedger.Server.Tests.Installation))]

// One installation serves all tests, and what one counts another must not change meanwhile.
[assembly: Xunit.v3.Parallelization(Mode = Xunit.Sdk.ParallelMode.None)]
