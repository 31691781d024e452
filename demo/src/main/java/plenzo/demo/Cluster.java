package plenzo.demo;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.zip.CRC32;

/**
 * The databases of the sample world: one real PostgreSQL server with a database a stage and proper
 * roles.
 */
public final class Cluster implements AutoCloseable {
  /**
   * Passwords of the sample world's database accounts; only for databases that the demo made
   * itself.
   */
  public static final String PASSWORD = "ferry-crossing";

  private static final String TRUST = "host all all 127.0.0.1/32 trust\n";

  private final Server server;

  public Cluster(Path folder) {
    this(folder, /* flushed= */ true);
  }

  /**
   * @param flushed whether the server flushes to the disk; only a test that never cuts the power
   *     may do without. It shares programs and the databases as they are at first with all that use
   *     the same place for temporary files: laying them out takes longer than most tests
   */
  public Cluster(Path folder, boolean flushed) {
    Path database = folder.resolve("database");
    if (flushed) {
      server = start(folder.resolve("server"), database, /* cleared= */ true, flushed);
      askForPasswords(database);
      layOut();
    } else {
      MadeOnce.copy(shared("data"), content(), Cluster::made, database);
      Server copy = start(shared("programs"), database, /* cleared= */ false, flushed);
      server = new Server(copy.port(), () -> closed(copy, database));
      askForPasswords(database);
    }
  }

  private Cluster(Server server, Path database) {
    this.server = server;
    askForPasswords(database);
    layOut();
  }

  private static Path shared(String what) {
    return Path.of(System.getProperty("java.io.tmpdir"), "plenzo-postgres", what);
  }

  /** The databases of the sample world in a folder, by a server that has ended. */
  private static void made(Path database) {
    Cluster made =
        new Cluster(
            start(shared("programs"), database, /* cleared= */ false, /* flushed= */ false),
            database);
    write(database, TRUST); // whoever starts it next asks for passwords again
    made.close();
  }

  private static void closed(Server copy, Path database) throws Exception {
    copy.running().close();
    MadeOnce.clear(database);
  }

  private static void write(Path database, String doors) {
    try {
      Files.writeString(database.resolve("pg_hba.conf"), doors);
    } catch (IOException e) {
      throw new UncheckedIOException("The sample databases could not be protected", e);
    }
  }

  /** Names what is laid out: by another program or world it is made anew. */
  private static String content() {
    CRC32 sum = new CRC32();
    for (String part : List.of("Cluster.class", "world.sql")) {
      try (InputStream in = Cluster.class.getResourceAsStream(part)) {
        sum.update(Objects.requireNonNull(in).readAllBytes());
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
    return Long.toHexString(sum.getValue());
  }

  private void layOut() {
    sql("postgres", "CREATE ROLE scratch LOGIN CREATEDB PASSWORD '" + PASSWORD + "'");
    for (String stage : List.of("development", "test", "production", "south")) {
      stage(stage);
    }
    desk("south");
  }

  /** The same on a server of the system's packages, whose own tools can be asked beside it. */
  public static Cluster of(PlainServer system) {
    return new Cluster(new Server(system.port(), system), system.database());
  }

  /** A server that runs, and what ends it. */
  private record Server(int port, AutoCloseable running) {}

  /**
   * @param cleared whether the folder is cleared before and afterwards; else what is there is used
   */
  private static Server start(Path programs, Path database, boolean cleared, boolean flushed) {
    try {
      Files.createDirectories(database.getParent());
      EmbeddedPostgres started =
          EmbeddedPostgres.builder()
              .setOverrideWorkingDirectory(programs.toFile())
              .setDataDirectory(database)
              .setCleanDataDirectory(cleared)
              .setServerConfig("unix_socket_directories", "")
              .setServerConfig("listen_addresses", "127.0.0.1")
              .setServerConfig("fsync", flushed ? "on" : "off")
              .setServerConfig("max_connections", "100")
              // each session signs in anew; nobody steals what is made up
              .setServerConfig("scram_iterations", "64")
              .start();
      return new Server(started.getPort(), started);
    } catch (IOException e) {
      throw new UncheckedIOException("The sample databases could not be started", e);
    }
  }

  /**
   * The server as it is unpacked trusts everybody; this one asks for passwords, as a real one does.
   */
  private void askForPasswords(Path database) {
    sql("postgres", "ALTER ROLE postgres PASSWORD 'postgres'");
    write(database, "host all all 127.0.0.1/32 scram-sha-256\n");
    sql("postgres", "SELECT pg_reload_conf()");
  }

  /** Two accounts a stage: one that may only read, one that owns the schemas and no more. */
  private void stage(String stage) {
    sql("postgres", "CREATE ROLE " + stage + "_look LOGIN PASSWORD '" + PASSWORD + "'");
    sql("postgres", "CREATE ROLE " + stage + "_change LOGIN PASSWORD '" + PASSWORD + "'");
    sql("postgres", "CREATE DATABASE " + stage + " OWNER " + stage + "_change");
    sql(stage, "GRANT ALL ON DATABASE " + stage + " TO " + stage + "_change");
    try (InputStream in = Cluster.class.getResourceAsStream("world.sql")) {
      String world = new String(Objects.requireNonNull(in).readAllBytes(), StandardCharsets.UTF_8);
      sql(
          stage,
          "SET ROLE "
              + stage
              + "_change; "
              + world
              + "; CREATE SCHEMA plenzo; GRANT USAGE ON SCHEMA fares, sailings, plenzo TO "
              + stage
              + "_look;"
              + " GRANT SELECT ON ALL TABLES IN SCHEMA fares, sailings TO "
              + stage
              + "_look; ALTER DEFAULT PRIVILEGES IN SCHEMA fares GRANT SELECT ON TABLES TO "
              + stage
              + "_look;"
              + " ALTER DEFAULT PRIVILEGES IN SCHEMA sailings GRANT SELECT ON TABLES TO "
              + stage
              + "_look");
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * The account of those who sell at a terminal; from now on nobody enters its database whom it
   * does not name.
   */
  private void desk(String stage) {
    String desk = stage + "_desk";
    sql("postgres", "CREATE ROLE " + desk + " LOGIN PASSWORD '" + PASSWORD + "'");
    sql("postgres", "REVOKE CONNECT ON DATABASE " + stage + " FROM PUBLIC");
    sql(
        "postgres",
        "SET ROLE "
            + stage
            + "_change; GRANT CONNECT ON DATABASE "
            + stage
            + " TO "
            + stage
            + "_look, "
            + desk);
  }

  public int port() {
    return server.port();
  }

  public Connection open(String database) throws SQLException {
    return DriverManager.getConnection(
        "jdbc:postgresql://127.0.0.1:" + port() + "/" + database, "postgres", "postgres");
  }

  /** Runs statements as the server's administrator, as people with a database tool would. */
  public void sql(String database, String sql) {
    try (Connection c = open(database);
        Statement s = c.createStatement()) {
      s.execute(sql);
    } catch (SQLException e) {
      throw new IllegalStateException("In " + database + ": " + sql, e);
    }
  }

  /** The rows of a query, columns joined by a bar. */
  public List<String> query(String database, String sql) {
    try (Connection c = open(database);
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      List<String> out = new ArrayList<>();
      while (r.next()) {
        List<String> row = new ArrayList<>();
        for (int i = 1; i <= r.getMetaData().getColumnCount(); i++) {
          row.add(String.valueOf(r.getString(i)));
        }
        out.add(String.join("|", row));
      }
      return out;
    } catch (SQLException e) {
      throw new IllegalStateException("In " + database + ": " + sql, e);
    }
  }

  @Override
  public void close() {
    try {
      server.running().close();
    } catch (Exception e) {
      throw new IllegalStateException("The sample databases could not be stopped", e);
    }
  }
}
