package plenzo.store;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.function.BiFunction;
import java.util.function.Function;
import org.apache.ibatis.builder.xml.XMLMapperBuilder;
import org.apache.ibatis.datasource.pooled.PooledDataSource;
import org.apache.ibatis.io.Resources;
import org.apache.ibatis.session.AutoMappingUnknownColumnBehavior;
import org.apache.ibatis.session.Configuration;
import org.apache.ibatis.session.ExecutorType;
import org.apache.ibatis.session.LocalCacheScope;
import org.apache.ibatis.session.SqlSession;
import org.apache.ibatis.session.defaults.DefaultSqlSession;
import org.apache.ibatis.transaction.jdbc.JdbcTransaction;
import plenzo.core.keeping.Keeper;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memo;
import plenzo.core.person.Person;

/**
 * Records in H2. WRITE_DELAY=0 puts every commit on the disk before it returns (measured: with H2's
 * default the commits of the last 500 ms are lost when the process is killed); the setting is read
 * back at start, and after every writing transaction CHECKPOINT SYNC flushes the file. H2 2.5.252
 * must not be used: when it writes into a gap of the file, the file's head still names the part
 * before, and up to 20 commits are not found after a kill (measured: 21 of 28 killed files; none
 * with 2.4.240).
 */
public final class H2Keeper implements Keeper {
  private static final List<String> MAPPERS = List.of("Records", "Event");

  /** What the mappers say is read once; each keeper brings the connections. */
  private static final Configuration MAPPED = mapped();

  private static final int CONNECTIONS = 20;

  /** Bytes of a file that is made short when it closes: a service stops within 20 s (guess). */
  private static final long LARGE = 128L << 20;

  private final Path file;
  private final PooledDataSource pool;

  /** Room that a service keeps (rules A). */
  public static final long ROOM = 32L << 20;

  private final Stamps stamps = new Stamps();
  private final NamesCache names = new NamesCache();
  private final ReadBefore before = new ReadBefore();
  private final Memo<List<Person>> everybody = new Memo<>();
  private final Ballast ballast;
  private final String service;

  /**
   * Opens the records, making them when they are not there, and upgrading earlier ones.
   *
   * @param room bytes of disk that are kept free for the records alone
   * @throws IllegalStateException when another service has them open, a newer Plenzo wrote them, or
   *     commits would not be safe
   */
  public H2Keeper(Path folder, java.util.function.Supplier<String> newId, long room) {
    String url =
        "jdbc:h2:file:"
            + folder.resolve("records").toAbsolutePath()
            + ";WRITE_DELAY=0;CACHE_SIZE=16384;DB_CLOSE_ON_EXIT=FALSE;LOCK_TIMEOUT=10000;QUERY_CACHE_SIZE=100";
    file = folder.resolve("records.mv.db");
    Private.close(folder);
    Shortening.of(file, LARGE);
    // H2's own pool rolls back whatever it is given back, and in 2.4.240 each rollback writes
    pool = new PooledDataSource("org.h2.Driver", url, "plenzo", "");
    pool.setPoolMaximumActiveConnections(CONNECTIONS);
    pool.setPoolMaximumIdleConnections(CONNECTIONS);
    pool.setPoolMaximumCheckoutTime((int) Duration.ofDays(1).toMillis());
    try (Connection c = pool.getConnection();
        Statement s = c.createStatement()) {
      Private.close(folder);
      new Schema(c, folder).bringUp();
      try (ResultSet r =
          s.executeQuery(
              "SELECT SETTING_VALUE FROM INFORMATION_SCHEMA.SETTINGS WHERE SETTING_NAME = 'WRITE_DELAY'")) {
        if (!r.next() || !r.getString(1).equals("0")) {
          throw new IllegalStateException(
              "The records would lose commits when the service is killed: WRITE_DELAY is not 0");
        }
      }
    } catch (IllegalStateException e) {
      pool.forceCloseAll();
      throw e;
    } catch (SQLException e) {
      pool.forceCloseAll();
      if (e.getErrorCode() == 90020 || String.valueOf(e.getMessage()).contains("already in use")) {
        throw new IllegalStateException(
            "Another Plenzo service has the records in "
                + folder
                + " open; stop it first, or give this one another data directory.",
            e);
      }
      throw new IllegalStateException(
          "The records in " + folder + " cannot be opened: " + e.getMessage(), e);
    }
    ballast = new Ballast(folder, room);
    service =
        inTransaction(
            (session, touched) -> {
              EventMapper events = session.getMapper(EventMapper.class);
              String known = events.fact("service");
              if (known == null) {
                known = newId.get();
                events.insertFact("service", known);
              }
              bringUp(session, events);
              return known;
            });
  }

  /** Form of what stands beside the records in columns; the first had none. */
  private static final String FORM = "4";

  private void bringUp(SqlSession session, EventMapper events) {
    if (FORM.equals(events.fact("form"))) {
      return;
    }
    MyBatisKept kept = new MyBatisKept(session, new Touched(), names, before);
    kept.promotions().bringUp();
    kept.runs().bringUp();
    kept.signEverybody();
    kept.fact("form", FORM);
  }

  private static Configuration mapped() {
    Configuration c = new Configuration();
    c.setArgNameBasedConstructorAutoMapping(true);
    c.setAutoMappingUnknownColumnBehavior(AutoMappingUnknownColumnBehavior.FAILING);
    c.setLocalCacheScope(LocalCacheScope.STATEMENT);
    c.setCacheEnabled(false);
    c.setDefaultStatementTimeout(30);
    for (String mapper : MAPPERS) {
      String resource = "plenzo/store/" + mapper + ".xml";
      try (java.io.InputStream in = Resources.getResourceAsStream(resource)) {
        new XMLMapperBuilder(in, c, resource, c.getSqlFragments()).parse();
      } catch (java.io.IOException e) {
        throw new java.io.UncheckedIOException("The mapper " + resource + " is missing", e);
      }
    }
    return c;
  }

  /** It takes a connection once something is asked, and gives it back when it is closed. */
  private SqlSession session(ExecutorType executor, boolean autoCommit) {
    JdbcTransaction transaction = new JdbcTransaction(pool, /* desiredLevel= */ null, autoCommit);
    return new DefaultSqlSession(MAPPED, MAPPED.newExecutor(transaction, executor), autoCommit);
  }

  private <T> T inTransaction(BiFunction<SqlSession, Touched, T> work) {
    ballast.keepRoom();
    Touched touched = new Touched();
    try (SqlSession session = session(ExecutorType.REUSE, /* autoCommit= */ false)) {
      T result = work.apply(session, touched);
      session.commit(true);
      stamps.move(touched);
      try (Statement s = session.getConnection().createStatement()) {
        s.execute("CHECKPOINT SYNC");
      } catch (SQLException e) {
        throw new IllegalStateException("The records could not be flushed to the disk", e);
      }
      return result;
    }
  }

  @Override
  public <T> T write(Function<Kept, T> work) {
    return inTransaction(
        (session, touched) -> work.apply(new MyBatisKept(session, touched, names, before)));
  }

  @Override
  public <T> T read(Function<Kept, T> work) {
    try (SqlSession session = session(ExecutorType.SIMPLE, /* autoCommit= */ true)) {
      return work.apply(new MyBatisKept(session, new Touched(), names, before));
    }
  }

  @Override
  public long stamp(String application) {
    return stamps.of(application);
  }

  @Override
  public long stamp() {
    return stamps.ofAll();
  }

  @Override
  public long stampOfKeys() {
    return stamps.ofKeys();
  }

  @Override
  public long stampOfSetUp() {
    return stamps.ofSetUp();
  }

  @Override
  public long stampOfPeople() {
    return stamps.ofPeople();
  }

  @Override
  public List<Person> everybody() {
    return everybody.get(stamps.ofPeople(), () -> read(kept -> kept.people().all()));
  }

  @Override
  public String service() {
    return service;
  }

  @Override
  public void close() {
    try (Connection c = pool.getConnection();
        Statement s = c.createStatement()) {
      // a larger file is made short before it is opened again: a service has no time for it now
      s.execute(Files.size(file) > LARGE ? "SHUTDOWN" : "SHUTDOWN COMPACT");
    } catch (SQLException | java.io.IOException e) {
      throw new IllegalStateException("The records could not be closed", e);
    } finally {
      pool.forceCloseAll();
    }
    Private.close(file.toAbsolutePath().getParent()); // what was made short is a new file
  }
}
