package plenzo.e2e;

import java.nio.file.Path;
import java.util.List;
import plenzo.core.comparison.Difference;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.demo.Cluster;
import plenzo.engine.running.RunListener;

/**
 * A million rows against a million, every one of them changed, in a process of its own with a small
 * heap: {@code FOLDER [run]}; compared, and with {@code run} written too.
 */
public final class ScaleMain {
  static final int ROWS = 1_000_000;

  private ScaleMain() {}

  public static void main(String[] args) {
    Path folder = Path.of(args[0]);
    List<String> picks = EngineWorld.both("crossing");
    try (Cluster cluster = new Cluster(folder.resolve("postgres"), /* flushed= */ false)) {
      for (String database : List.of("development", "production")) {
        cluster.sql(
            database,
            "SET ROLE "
                + database
                + "_change; CREATE TABLE fares.crossing (id bigint PRIMARY KEY, harbour text NOT NULL, price numeric(8,2));"
                + "INSERT INTO fares.crossing SELECT n, 'Harbour ' || n % 40, n % 90 FROM generate_series(1, "
                + ROWS
                + ") n");
      }
      try (EngineWorld world =
          new EngineWorld(folder.resolve("data"), cluster.port(), RunListener.NOBODY)) {
        world.adopt(picks);
        cluster.sql("development", "UPDATE fares.crossing SET price = price + 1");
        world.seal("1.1.0", picks);
        Promotion p = world.promotion("1.1.0");
        int component =
            p.components().stream().map(c -> c.key().toString()).toList().indexOf(picks.get(0));
        var last =
            world
                .engine
                .comparer()
                .files()
                .page(
                    String.valueOf(p.comparison()), component, Difference.CHANGED, ROWS - 10, 200);
        System.out.println(
            "changed "
                + p.counts().changed()
                + ", last page "
                + last.size()
                + " to "
                + last.get(last.size() - 1).any().keyLine());
        if (args.length == 1) {
          System.exit(0);
        }
        Run run = world.run(p);
        System.out.println(
            run.state().code()
                + ", sum "
                + cluster.query("production", "SELECT sum(price) FROM fares.crossing")
                + " and "
                + cluster.query("development", "SELECT sum(price) FROM fares.crossing"));
      }
    }
    System.exit(0);
  }
}
