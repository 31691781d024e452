package plenzo.e2e;

import java.io.IOException;
import java.nio.file.Path;
import plenzo.demo.Cluster;
import plenzo.demo.PlainServer;

/** Two databases, development and production, each with a schema "fares" that a test lays anew. */
final class FaresDatabases implements AutoCloseable {
  final Cluster cluster;
  private final Path root;
  private int cases;

  /**
   * @param root emptied first
   */
  FaresDatabases(Path root) throws IOException {
    this.root = root;
    KillTest.clear(root);
    cluster = new Cluster(root.resolve("postgres"), /* flushed= */ false);
  }

  /**
   * @param root for records, emptied first
   * @param system whose tools are asked too; closed with these
   */
  FaresDatabases(Path root, PlainServer system) throws IOException {
    this.root = root;
    KillTest.clear(root);
    cluster = Cluster.of(system);
  }

  /** Makes the schema anew in both, and takes away what Plenzo wrote in production. */
  void lay(String tables) {
    lay("development", tables);
    lay("production", tables);
    unmark();
  }

  /** Takes away what Plenzo wrote in production: it is nobody's again. */
  void unmark() {
    cluster.sql(
        "production",
        "DROP SCHEMA plenzo CASCADE; CREATE SCHEMA plenzo AUTHORIZATION production_change; GRANT USAGE ON SCHEMA plenzo TO production_look");
  }

  /** Makes the schema anew in one, and leaves what Plenzo wrote there. */
  void lay(String database, String tables) {
    as(
        database,
        "DROP SCHEMA fares CASCADE; CREATE SCHEMA fares; GRANT USAGE ON SCHEMA fares TO "
            + database
            + "_look; ALTER DEFAULT PRIVILEGES IN SCHEMA fares GRANT SELECT ON TABLES TO "
            + database
            + "_look; "
            + tables);
  }

  /** As the account that owns the tables. */
  void as(String database, String sql) {
    cluster.sql(database, "SET ROLE " + database + "_change; " + sql);
  }

  /** A folder for the next case's records. */
  Path nextCase() {
    return root.resolve("case-" + cases++);
  }

  @Override
  public void close() {
    cluster.close();
  }
}
