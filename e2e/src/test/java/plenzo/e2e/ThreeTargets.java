package plenzo.e2e;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import plenzo.core.component.ComponentKey;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Stage;
import plenzo.demo.Cluster;
import plenzo.demo.FareDesk;
import plenzo.demo.HostProcess;
import plenzo.engine.binding.Bindings;
import plenzo.engine.setup.Adoption;

/**
 * Directories and application hosts for the two stages of an {@link EngineWorld}, so that its sites
 * have three targets each. The hosts are processes of their own.
 */
final class ThreeTargets implements AutoCloseable {
  static final List<String> PIECES =
      List.of(
          "file/fares/conditions.txt",
          "file/fares/prices.html",
          "integration/fares.card-terminal",
          "form/fares.quote",
          "rule/fares.night-crossing",
          "rule/fares.peak-crossing");

  final Map<String, HostProcess> hosts = new TreeMap<>();
  final Map<String, Path> folders = new TreeMap<>();

  /**
   * @param folder for what the hosts and directories keep
   */
  ThreeTargets(Path folder, Cluster cluster) {
    for (String stage : List.of("development", "production")) {
      HostProcess host =
          new HostProcess(folder.resolve("host-" + stage), cluster, stage, stage + "_look");
      hosts.put(stage, host);
      FareDesk.furnish(host, stage);
      Path published = folder.resolve(stage).resolve("published");
      FareDesk.publish(published);
      folders.put(stage, published);
    }
  }

  HostProcess host(String stage) {
    return java.util.Objects.requireNonNull(hosts.get(stage));
  }

  Path published(String stage) {
    return java.util.Objects.requireNonNull(folders.get(stage));
  }

  /**
   * Registers the targets beside the databases that are there.
   *
   * @param hostPort where the production host is reached; a relay's to stand in between, 0 for its
   *     own
   */
  void register(EngineWorld world, int hostPort) {
    for (String stage : List.of("development", "production")) {
      int port = stage.equals("production") && hostPort > 0 ? hostPort : host(stage).port();
      world
          .engine
          .connections()
          .save(
              world.ines,
              connection(stage, "files", "directory", "", 0, published(stage).toString()),
              null);
      world
          .engine
          .connections()
          .save(
              world.ines,
              connection(stage, "host", "host", "127.0.0.1", port, ""),
              host(stage).token());
      world.engine.connections().makeReady(world.ines, stage, "files");
      Stage.Target database =
          world.engine.stages().get(world.ines, stage).sites().get(0).targets().get(0);
      world.changed(
          stage,
          0,
          List.of(
              database,
              EngineWorld.whole(stage, "files", "directory"),
              EngineWorld.whole(stage, "host", "host")));
    }
    world.engine.connections().testSite(world.ines, EngineMain.SITE);
  }

  private static Connection connection(
      String stage, String name, String sort, String host, int port, String path) {
    return new Connection(
        stage, name, sort, host, port, "", path, "", "disable", Map.of(), List.of(), false, null,
        null, null, 0);
  }

  /** Gives production what its card terminal needs. */
  static void bind(EngineWorld world) {
    world
        .engine
        .bindings()
        .bind(
            world.ines,
            new Bindings.Place("fares", "production", "", "terminal-address"),
            "https://terminal.production.example",
            false,
            null,
            0);
    world
        .engine
        .bindings()
        .bind(
            world.ines,
            new Bindings.Place("fares", "production", "", "terminal-key"),
            "s3cret-terminal-key",
            true,
            null,
            0);
  }

  static List<Adoption.Pick> picks(List<String> components) {
    return components.stream()
        .map(k -> new Adoption.Pick(ComponentKey.of(k), null, /* generatedKeyConfirmed= */ true))
        .toList();
  }

  @Override
  public void close() {
    hosts.values().forEach(HostProcess::close);
  }
}
