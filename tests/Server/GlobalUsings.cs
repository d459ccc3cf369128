global using Xunit;

[assembly: AssemblyFixture(typeof(AtticLedger.Server.Tests.Installation))]
