package plenzo.core.stage;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A named way to reach a system, kept once per stage. The secret is stored apart, encrypted and
 * never shown.
 *
 * @param tls disable, require or verify-full
 * @param test what the last test found, null when it was never tested
 */
public record Connection(
    String stage,
    String name,
    String host,
    int port,
    String database,
    String account,
    String tls,
    boolean hasSecret,
    @Nullable Instant secretSetAt,
    @Nullable String secretSetBy,
    @Nullable Test test,
    int revision) {

  /** Result of a connection test: green only when every probe is good. */
  public record Test(Instant at, boolean good, List<Probe> probes) {
    public Test {
      probes = List.copyOf(probes);
    }
  }

  /** One thing that was measured, and what to do about it when it is not good. */
  public record Probe(String name, boolean good, String found, String advice) {}

  public String id() {
    return stage + "/" + name;
  }

  public Connection withTest(@Nullable Test test) {
    return new Connection(
        stage,
        name,
        host,
        port,
        database,
        account,
        tls,
        hasSecret,
        secretSetAt,
        secretSetBy,
        test,
        revision);
  }
}
