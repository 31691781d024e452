package plenzo.e2e;

import java.io.IOException;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.engine.running.RunListener;

/** Tests over two real databases, development and production, that each case lays anew. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
abstract class OnPostgres {
  private final String folder;
  final Started started = new Started();
  FaresDatabases databases;
  Cluster cluster;

  /**
   * @param folder where the databases and the records are
   */
  OnPostgres(String folder) {
    this.folder = folder;
  }

  @BeforeAll
  void start() throws IOException {
    databases = started.add(new FaresDatabases(Ground.of(folder)));
    cluster = databases.cluster;
  }

  @AfterAll
  void stop() {
    started.close();
  }

  /** An engine with records of its own. */
  EngineWorld engine() {
    return new EngineWorld(databases.nextCase(), cluster.port(), RunListener.NOBODY);
  }
}
