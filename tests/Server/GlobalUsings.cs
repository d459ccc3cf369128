global using AtticLedger.StandIns;
global using Xunit;

[assembly: AssemblyFixture(typeof(AtticLedger.Server.Tests.Installation))]

// One installation serves all tests, and no test may change what another counts.
[assembly: Xunit.v3.Parallelization(Mode = Xunit.Sdk.ParallelMode.None)]
