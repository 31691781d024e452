package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.run.RunState;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Stage;
import plenzo.core.testing.Ground;
import plenzo.core.trust.Parcel;
import plenzo.core.trust.Signer;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.demo.Cluster;
import plenzo.demo.FareDesk;
import plenzo.engine.Engine;
import plenzo.engine.packaging.Packages;
import plenzo.engine.running.RunListener;

/** A version travels as a file from one Plenzo to another; secrets never do. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class PackageTravelTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("package-travel");
  private static final String SECRET = "s3cret-terminal-key";

  private Cluster cluster;
  private ThreeTargets targets;
  private EngineWorld here;
  private Engine there;
  private final Person ines = EngineMain.person("ines");
  private byte[] file;
  private Parcel built;

  @BeforeAll
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    targets = started.add(new ThreeTargets(ROOT.resolve("sites"), cluster));
    here = started.add(new EngineWorld(ROOT.resolve("here"), cluster.port(), RunListener.NOBODY));
    targets.register(here, 0);
    List<String> all = new ArrayList<>(EngineWorld.both("fare_band"));
    all.addAll(ThreeTargets.PIECES);
    here.adopt(all);
    ThreeTargets.bind(here);
    here.engine.keys().make(ines, "Office");
    built = here.engine.packages().build(ines, "fares", new SemVer("1.0.0"));
    try (InputStream in = here.engine.packages().handOut(ines, built.id())) {
      file = in.readAllBytes();
    }
    there = EngineMain.open(ROOT.resolve("there"), RunListener.NOBODY, Duration.ofSeconds(15));
    there
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.people().insert(ines);
              return null;
            });
    for (String stage : List.of("development", "production")) {
      there
          .stages()
          .save(ines, new Stage(stage, stage, Stage.Role.TEST, 0, "UTC", false, List.of(), 0));
    }
    there
        .paths()
        .lay(
            ines,
            new plenzo.core.stage.Path(
                "ordinary", "Ordinary", "development", List.of(Leg.open("production")), 0));
  }

  @AfterAll
  void stop() {
    there.tools().keeper().close();
    started.close();
  }

  private Parcel receive(byte[] bytes) {
    return there
        .packages()
        .receive(ines, "fares-1.0.0.zip", new ByteArrayInputStream(bytes), bytes.length)
        .parcel();
  }

  private long packagesThere() {
    return there.tools().files().list("package").size();
  }

  @Test
  void travelsOnlyWithATrustedKeyAndArrivesAsItWas() throws IOException {
    Parcel again = here.engine.packages().build(ines, "fares", new SemVer("1.0.0"));
    try (InputStream in = here.engine.packages().handOut(ines, again.id())) {
      assertThat(in.readAllBytes()).as("the same version, the same file").isEqualTo(file);
    }
    Parcel received = receive(file);
    assertThat(received.problem()).contains("not trusted here");
    assertThatThrownBy(() -> there.packages().bringIn(ines, received.id(), "ordinary"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_TRUSTED"));
    assertThat(there.versions().list(ines, Kept.Filter.application("fares")).items()).isEmpty();

    Signer office = here.engine.keys().list(ines).get(0);
    there.keys().trust(ines, "Office", office.open());
    assertThatThrownBy(() -> there.packages().bringIn(ines, received.id(), null))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("no application fares here yet");
    long files = packagesThere();
    Packages.Taken twice =
        there.packages().receive(ines, "again.zip", new ByteArrayInputStream(file), file.length);
    assertThat(twice.already()).isTrue();
    assertThat(twice.parcel().id()).isEqualTo(received.id());
    assertThat(twice.parcel().problem()).as("its signer is trusted by now").isEmpty();
    assertThat(packagesThere()).as("of the second nothing is kept").isEqualTo(files);
    Version arrived = there.packages().bringIn(ines, received.id(), "ordinary");
    Packages.Taken later =
        there.packages().receive(ines, "again.zip", new ByteArrayInputStream(file), file.length);
    assertThat(later.already()).isTrue();
    assertThat(later.parcel().state()).isEqualTo(Parcel.State.BROUGHT_IN);
    assertThat(packagesThere()).isEqualTo(files);

    Version sent = here.engine.versions().get(ines, "fares", new SemVer("1.0.0"));
    assertThat(arrived).isEqualTo(sent);
    assertThat(there.applications().get(ines, "fares").id())
        .isEqualTo(here.engine.applications().get(ines, "fares").id());
    assertThat(there.packages().list(ines, Kept.Filter.application("fares")).items().get(0).state())
        .isEqualTo(Parcel.State.BROUGHT_IN);

    there.keys().revoke(ines, office.id(), "The laptop was stolen");
    Parcel late = receive(file);
    assertThat(late.problem()).contains("was revoked on").contains("The laptop was stolen");
    assertThatThrownBy(() -> there.packages().bringIn(ines, late.id(), null))
        .isInstanceOf(Problem.class);
    there.packages().drop(ines, late.id());
  }

  @Test
  void refusesADamagedFileAndLeavesNothingBehind() {
    long before = packagesThere();
    for (int at = 40; at < file.length; at += file.length / 23) {
      byte[] damaged = file.clone();
      damaged[at] ^= 1;
      assertThatThrownBy(() -> receive(damaged))
          .isInstanceOfSatisfying(
              Problem.class, p -> assertThat(p.code()).isEqualTo("PACKAGE_REFUSED"));
    }
    assertThatThrownBy(() -> receive("no package".getBytes(StandardCharsets.UTF_8)))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("too short");
    assertThat(packagesThere()).isEqualTo(before);
  }

  /** A name of two characters for one left its file behind. */
  @ParameterizedTest
  @ValueSource(strings = {"\uD83D\uDE00.zip", "\uD83D\uDE00", "", "../../x", "\u0000", "\uD83D"})
  void takesAnyNameAndKeepsAPlainOne(String name) {
    long before = packagesThere();

    Parcel p =
        there.packages().receive(ines, name, new ByteArrayInputStream(file), file.length).parcel();

    assertThat(p.name()).matches("[A-Za-z0-9._-]{0,120}");
    there.packages().drop(ines, p.id());
    assertThat(packagesThere()).isEqualTo(before);
  }

  /** Whoever sends without end is refused while it is read, and when the sender goes. */
  @Test
  void leavesNothingBehindOfAFileThatDoesNotCome() {
    long before = packagesThere();
    InputStream gone =
        new SequenceInputStream(
            new ByteArrayInputStream(file, 0, 200),
            new InputStream() {
              @Override
              public int read() throws IOException {
                throw new IOException("the sender is gone");
              }
            });

    assertThatThrownBy(() -> there.packages().receive(ines, "x.zip", gone, -1))
        .isInstanceOf(UncheckedIOException.class);
    assertThat(packagesThere()).isEqualTo(before);
  }

  @Test
  void carriesNoSecretAndWritesNoneDown() throws IOException {
    cluster.sql("development", "UPDATE fares.fare_band SET base_price = 13 WHERE code = 'FOOT'");
    targets
        .host("development")
        .edit("integration", "fares.card-terminal", FareDesk.terminal("2"), true, "");
    here.seal("1.1.0", List.of("records/fares.fare_band", "integration/fares.card-terminal"));
    assertThat(here.run(here.promotion("1.1.0")).state()).isEqualTo(RunState.DONE);
    here.engine.packages().build(ines, "fares", new SemVer("1.1.0"));
    String secret64 =
        java.util.Base64.getEncoder()
            .encodeToString(SECRET.getBytes(StandardCharsets.UTF_8))
            .substring(0, 20);

    // the host has it, as it must; nothing of Plenzo's own has
    assertThat(Files.readString(ROOT.resolve("sites/host-production/state/state.json")))
        .contains(SECRET);
    try (Stream<Path> all = Files.walk(ROOT.resolve("here"))) {
      for (Path p : all.filter(Files::isRegularFile).toList()) {
        String bytes = Files.readString(p, StandardCharsets.ISO_8859_1);
        assertThat(bytes).as(p.toString()).doesNotContain(SECRET).doesNotContain(secret64);
      }
    }
  }
}
