package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.jar.JarOutputStream;
import java.util.zip.ZipEntry;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.component.ComponentKey;
import plenzo.core.problem.Problem;
import plenzo.core.testing.Ground;
import plenzo.core.version.Draft;
import plenzo.demo.Cluster;
import plenzo.engine.running.RunListener;
import plenzo.engine.setup.Adoption;
import plenzo.server.wiring.AddedChecks;

/** A jar that somebody writes by the docs alone and puts into the folder of checks. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class OwnChecksTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("own-checks");
  private static final String SOURCE =
      """
      package example;

      import java.io.IOException;
      import java.util.Set;
      import java.util.function.Consumer;
      import plenzo.core.check.ContentCheck;
      import plenzo.core.component.Kind;
      import plenzo.core.impact.Finding.Severity;

      public final class Prices implements ContentCheck {
        public String id() { return "round-prices"; }

        public Set<Kind> kinds() { return Set.of(Kind.RECORDS); }

        public void check(Content content, Consumer<Remark> sink) throws IOException {
          if (content.key().name().equals("fares.surcharge")) {
            throw new IllegalStateException("no opinion");
          }
          if (content.text(1 << 20).contains("12.01")) {
            sink.accept(new Remark(Severity.BLOCKER, "row/FOOT", "A price is not round.", "Round it"));
          }
        }
      }
      """;

  private Cluster cluster;
  private EngineWorld world;

  @BeforeAll
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    world =
        started.add(
            new EngineWorld(
                ROOT.resolve("records"),
                cluster.port(),
                RunListener.NOBODY,
                AddedChecks.of(jar("checks", "example.Prices"))));
    world.adopt(EngineWorld.both("fare_band", "surcharge"));
  }

  @AfterAll
  void stop() {
    started.close();
  }

  /** Compiles the check and packs it, with the name of its provider. */
  private static Path jar(String name, String provider) throws IOException {
    Path source = ROOT.resolve(name + "-source/example/Prices.java");
    Files.createDirectories(source.getParent());
    Files.writeString(source, SOURCE);
    Path classes = Files.createDirectories(ROOT.resolve(name + "-classes"));
    int compiled =
        ToolProvider.getSystemJavaCompiler()
            .run(
                null,
                null,
                null,
                "-proc:none",
                "-d",
                classes.toString(),
                "-cp",
                System.getProperty("java.class.path"),
                source.toString());
    assertThat(compiled).isZero();
    Path folder = Files.createDirectories(ROOT.resolve(name));
    try (OutputStream out = Files.newOutputStream(folder.resolve("prices.jar"));
        JarOutputStream jar = new JarOutputStream(out)) {
      jar.putNextEntry(new ZipEntry("META-INF/services/plenzo.core.check.ContentCheck"));
      jar.write(provider.getBytes(StandardCharsets.UTF_8));
      jar.putNextEntry(new ZipEntry("example/Prices.class"));
      jar.write(Files.readAllBytes(classes.resolve("example/Prices.class")));
    }
    return folder;
  }

  @Test
  void keepsADraftThatItObjectsToAndSaysWhatItCouldNotCheck() {
    cluster.sql(
        "development",
        "UPDATE fares.fare_band SET base_price = 12.01 WHERE code = 'FOOT'; UPDATE fares.surcharge SET amount = amount + 1");
    String id = world.engine.drafts().start(world.ines, "fares", null).id();
    world
        .engine
        .drafts()
        .add(
            world.ines,
            id,
            EngineWorld.DEVELOPMENT,
            List.of("records/fares.fare_band", "records/fares.surcharge").stream()
                .map(k -> new Adoption.Pick(ComponentKey.of(k), null, true))
                .toList());

    Draft draft = world.engine.drafts().check(world.ines, id);

    assertThat(draft.findings().stream().map(f -> f.severity() + " " + f.rule() + " " + f.place()))
        .contains(
            "BLOCKER round-prices records/fares.fare_band#row/FOOT",
            "RISK round-prices records/fares.surcharge");
    assertThatThrownBy(
            () -> world.engine.drafts().seal(world.ines, id, EngineWorld.said("1.1.0", "Prices")))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("stays a draft: A price is not round.");
  }

  @Test
  void doesNotStartWithAJarThatProvidesNothing() throws IOException {
    Path folder = jar("broken", "example.Missing");

    assertThatThrownBy(() -> AddedChecks.of(folder))
        .isInstanceOf(IllegalStateException.class)
        .hasMessageContaining("example.Missing");
  }
}
