package plenzo.e2e;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import plenzo.core.component.ComponentKey;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.stage.Connection;
import plenzo.core.trust.Parcel;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.demo.Cluster;
import plenzo.engine.running.RunListener;
import plenzo.engine.setup.Adoption;
import plenzo.packages.VerifiedFacts;

/**
 * Many files adopted, one in a hundred changed, compared, run, packed and verified: {@code FOLDER
 * FILES BYTES}. To be started with the heap that a service has.
 */
public final class ManyFilesMain {
  private ManyFilesMain() {}

  public static void main(String[] args) throws IOException {
    Path folder = Path.of(args[0]);
    int count = Integer.parseInt(args[1]);
    byte[] content =
        "A page of the timetable.\n".repeat(Integer.parseInt(args[2]) / 25 + 1).getBytes();
    for (String stage : List.of("development", "production")) {
      for (int n = 0; n < count; n++) {
        Path file = file(folder, stage, n);
        Files.createDirectories(file.getParent());
        content[0] = (byte) ('A' + n % 26);
        content[1] = (byte) ('a' + n / 26 % 26);
        content[2] = (byte) ('a' + n / 676 % 26);
        content[3] = (byte) ('a' + n / 17576 % 26);
        Files.write(file, content);
      }
    }
    try (Cluster cluster = new Cluster(folder.resolve("postgres"), /* flushed= */ false);
        EngineWorld world =
            new EngineWorld(folder.resolve("data"), cluster.port(), RunListener.NOBODY)) {
      List.of("development", "production").forEach(stage -> register(world, folder, stage));
      long began = System.nanoTime();
      Version adopted =
          world
              .engine
              .adoption()
              .adopt(
                  world.ines,
                  "fares",
                  EngineMain.SITE,
                  new SemVer("1.0.0"),
                  "Was there",
                  all(world, count));
      began = took("adopted " + adopted.entries().size(), began);
      for (int n = 0; n < count; n += 100) {
        Files.writeString(file(folder, "development", n), "Changed " + n);
      }
      String draft = world.engine.drafts().start(world.ines, "fares", null).id();
      List<Adoption.Pick> changed =
          world
              .engine
              .sources()
              .against(world.ines, "fares", EngineWorld.DEVELOPMENT, new SemVer("1.0.0"))
              .components()
              .stream()
              .filter(c -> c.state().equals("changed"))
              .map(c -> new Adoption.Pick(c.key(), null, false))
              .toList();
      began = took("found changed " + changed.size(), began);
      world.engine.drafts().add(world.ines, draft, EngineWorld.DEVELOPMENT, changed);
      world.engine.drafts().check(world.ines, draft);
      world.engine.drafts().seal(world.ines, draft, EngineWorld.said("1.1.0", "Pages"));
      began = took("sealed", began);
      Promotion p = world.promotion("1.1.0");
      began = took("compared, changed " + p.counts().changed(), began);
      Run run = world.run(p);
      began = took(run.state().code() + " " + run.sentence(), began);
      world.engine.keys().make(world.ines, "office");
      Parcel built = world.engine.packages().build(world.ines, "fares", new SemVer("1.1.0"));
      began = took("built " + built.name(), began);
      Path handedOut = folder.resolve(built.name());
      try (InputStream in = world.engine.packages().handOut(world.ines, built.id())) {
        Files.copy(in, handedOut);
      }
      took("intact with " + VerifiedFacts.of(handedOut).kinds(), began);
      System.out.println(
          "there " + Files.readString(file(folder, "production", 100 * ((count - 1) / 100))));
    }
    System.exit(0);
  }

  private static long took(String what, long since) {
    long now = System.nanoTime();
    System.out.println(what + ", " + Duration.ofNanos(now - since).toMillis() + " ms");
    return now;
  }

  private static Path file(Path folder, String stage, int n) {
    return folder.resolve(stage + "/published/fares/" + n / 1000 + "/page-" + n + ".txt");
  }

  private static List<Adoption.Pick> all(EngineWorld world, int count) {
    return java.util.stream.IntStream.range(0, count)
        .mapToObj(
            n ->
                new Adoption.Pick(
                    ComponentKey.of("file/fares/" + n / 1000 + "/page-" + n + ".txt"), null, false))
        .toList();
  }

  private static void register(EngineWorld world, Path folder, String stage) {
    world
        .engine
        .connections()
        .save(
            world.ines,
            new Connection(
                stage,
                "files",
                "directory",
                "",
                0,
                "",
                folder.resolve(stage + "/published").toString(),
                "",
                "disable",
                Map.of(),
                List.of(),
                false,
                null,
                null,
                null,
                0),
            null);
    world.engine.connections().makeReady(world.ines, stage, "files");
    world.changed(stage, 0, List.of(EngineWorld.whole(stage, "files", "directory")));
    world.engine.connections().testSite(world.ines, new plenzo.core.stage.SiteKey(stage, "main"));
  }
}
