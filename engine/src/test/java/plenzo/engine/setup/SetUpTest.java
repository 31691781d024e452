package plenzo.engine.setup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Stage;
import plenzo.engine.kit.KitTest;

/** What is new never takes the place of what stands, and what changed is said. */
class SetUpTest extends KitTest {

  private Stage.Site there() {
    return kit.engine().stages().get(kit.ines, SITE.stage()).sites().get(0);
  }

  @Test
  void aNewSiteDoesNotReplaceOneOfItsName() {
    Stage.Site before = there();

    assertThatThrownBy(
            () ->
                kit.engine()
                    .stages()
                    .newSite(kit.ines, SITE.stage(), new Stage.Site(SITE.site(), List.of())))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("There is already a site \"production/main\"");
    assertThat(there()).isEqualTo(before);
  }

  @Test
  void aSiteThatIsChangedMustBeThere() {
    assertThatThrownBy(
            () ->
                kit.engine()
                    .stages()
                    .changeSite(kit.ines, SITE.stage(), new Stage.Site("other", List.of())))
        .isInstanceOf(Problem.class);
  }

  /** A path that makes a name of the host before it would lead the secret elsewhere. */
  @ParameterizedTest
  @CsvSource({"@127.0.0.1:46000/, /path", "/a/../b, /path", "/a?b, /path", "'', "})
  void aConnectionLeadsWhereItsHostSays(String path, @Nullable String field) {
    Connection asked =
        new Connection(
            "production",
            "fresh",
            "host",
            "host.example",
            8443,
            "",
            path,
            "plenzo",
            "verify-full",
            Map.of(),
            List.of(),
            false,
            null,
            null,
            null,
            0);
    Problem p =
        catchThrowableOfType(
            Problem.class, () -> kit.engine().connections().save(kit.ines, asked, "token"));

    assertThat(p == null ? null : p.field()).isEqualTo(field);
  }

  private Connection host() {
    return kit.engine().connections().list(kit.ines, "production").stream()
        .filter(c -> c.sort().equals("host"))
        .findFirst()
        .orElseThrow();
  }

  private static Connection with(Connection c, String tls, Map<String, String> options) {
    return new Connection(
        c.stage(),
        c.name(),
        c.sort(),
        c.host(),
        c.port(),
        c.database(),
        c.path(),
        c.account(),
        tls,
        options,
        c.lentTo(),
        c.hasSecret(),
        c.secretSetAt(),
        c.secretSetBy(),
        c.test(),
        c.revision());
  }

  /** Else whoever may change a connection could have its secret sent to a server of theirs. */
  @ParameterizedTest
  @CsvSource({
    "disable, '', , false, false",
    "verify-full, authority, a certificate, false, false",
    "verify-full, mode, in-place, true, false",
    "verify-full, '', , true, true"
  })
  void aSecretIsForgottenWhenSomebodyElseCouldBeBelievedToBeTheTarget(
      String tls, String option, @Nullable String value, boolean secretStays, boolean testStays) {
    kit.engine().connections().save(kit.ines, with(host(), "verify-full", Map.of()), "token");
    kit.engine().connections().testSite(kit.ines, SITE);
    Connection before = host();
    assertThat(before.hasSecret()).isTrue();
    assertThat(before.test()).isNotNull();

    kit.engine()
        .connections()
        .save(kit.ines, with(before, tls, value == null ? Map.of() : Map.of(option, value)), null);

    assertThat(host().hasSecret()).isEqualTo(secretStays);
    assertThat(host().test() != null).isEqualTo(testStays);
  }

  @Test
  void twoApplicationsHaveTwoNameSpaces() {
    assertThatThrownBy(
            () ->
                kit.engine()
                    .applications()
                    .register(kit.ines, "other", "Other", "Tickets", "fares", "ordinary"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("fares");
    kit.engine().applications().register(kit.ines, "other", "Other", "Tickets", "o", "ordinary");
    assertThatThrownBy(
            () ->
                kit.engine()
                    .applications()
                    .register(kit.ines, "other", "Other", "Tickets", "p", "ordinary"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("There is already an application");
  }

  @Test
  void theHistorySaysWhatChanged() {
    kit.rename("database", "main-database");

    assertThat(kit.history().get(0).text()).contains("main-database");
  }

  /** The first number of a series is given once. */
  @Test
  void firstDraftsAtOnceHaveTheirOwnNumbers() throws Exception {
    kit.adopt();
    int people = 4;
    ExecutorService pool = Executors.newFixedThreadPool(people);
    try {
      CountDownLatch go = new CountDownLatch(1);
      List<Future<String>> all =
          java.util.stream.IntStream.range(0, people)
              .mapToObj(
                  i ->
                      pool.submit(
                          () -> {
                            go.await();
                            return kit.engine().drafts().start(kit.ines, "fares", null).id();
                          }))
              .toList();
      go.countDown();
      Set<String> ids = new TreeSet<>();
      for (Future<String> f : all) {
        ids.add(f.get());
      }
      assertThat(ids).containsExactly("D-1", "D-2", "D-3", "D-4");
    } finally {
      pool.shutdownNow();
    }
  }
}
