package plenzo.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionHead;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Purpose;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

/**
 * Lists in parts, for whoever may see what: all parts together are exactly what a person may see of
 * everything, newest first, each once. The judge is the plain question whether they may.
 */
class PartsTest {
  private static final List<String> STAGES = List.of("test", "trial", "production");
  private static final List<String> APPLICATIONS = List.of("fares", "sailings", "boarding");
  private static final int MANY = 300;
  private static final int PART = 7;

  @TempDir static Path folder;
  private static H2Keeper keeper;

  @BeforeAll
  static void world() {
    keeper = new H2Keeper(folder, () -> "service-1", 1 << 20);
    Random random = new Random(5);
    keeper.write(
        kept -> {
          for (int n = 1; n <= MANY; n++) {
            SiteKey site = new SiteKey(any(random, STAGES), "main");
            Promotion p =
                Promotion.opened(
                    n,
                    Promotion.Goal.of(any(random, APPLICATIONS), new SemVer("1.0." + n), site),
                    new Promotion.Prepared("ines", Instant.EPOCH, ""));
            kept.promotions().insert(p);
            kept.runs()
                .insert(
                    Run.queued(
                        n,
                        new Run.Goal(n, p.application(), "1.0." + n, null, site, "", List.of()),
                        "ines",
                        Instant.EPOCH,
                        List.of()));
            kept.note(event(random), Instant.EPOCH);
          }
          return null;
        });
  }

  @AfterAll
  static void close() {
    keeper.close();
  }

  private static <T> T any(Random random, List<T> of) {
    return of.get(random.nextInt(of.size()));
  }

  private static @Nullable String perhaps(Random random, List<String> of) {
    return random.nextInt(4) == 0 ? null : any(random, of);
  }

  private static HistoryEntry.Event event(Random random) {
    return new HistoryEntry.Event(
        any(random, List.of("ines", "bram", "gill")),
        any(random, List.of("sealed", "approved")),
        perhaps(random, APPLICATIONS),
        perhaps(random, STAGES),
        null,
        null,
        null,
        null,
        "");
  }

  private static Person person(Random random) {
    List<Person.Grant> grants = new ArrayList<>();
    for (int n = random.nextInt(5); n > 0; n--) {
      grants.add(
          new Person.Grant(
              any(random, List.of(Right.LOOK, Right.LOOK, Right.APPROVE)),
              any(random, List.of("test", "trial", "production", "*")),
              any(random, List.of("fares", "sailings", "boarding", "*"))));
    }
    if (random.nextInt(4) == 0) {
      grants.add(new Person.Grant(Right.AUDIT, "*", "*"));
    }
    return Person.invited("gill", "Gill", "", false).withGrants(grants);
  }

  private static <T> List<T> all(Function<Long, Slice<T>> ask) {
    List<T> out = new ArrayList<>();
    long next = 0;
    do {
      Slice<T> part = ask.apply(next);
      assertThat(part.items()).hasSizeLessThanOrEqualTo(PART);
      if (part.next() != 0) {
        assertThat(part.items()).as("a part that is not the last is full").hasSize(PART);
      }
      out.addAll(part.items());
      next = part.next();
    } while (next != 0);
    return out;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20})
  void promotionsAndRunsAreThoseThatMayBeSeen(long seed) {
    Random random = new Random(seed);
    Person by = person(random);
    String application = random.nextInt(3) == 0 ? any(random, APPLICATIONS) : null;
    String stage = random.nextInt(3) == 0 ? any(random, STAGES) : null;
    Kept.Filter filter = Kept.Filter.application(application).stage(stage);
    Sight sight = Sight.of(by, Right.LOOK);

    List<PromotionHead> found =
        all(from -> keeper.read(kept -> kept.promotions().heads(filter.part(from, PART), sight)));
    List<RunHead> runs =
        all(from -> keeper.read(kept -> kept.runs().heads(filter.part(from, PART), sight)));

    List<Long> expected =
        keeper.read(kept -> kept.promotions().all()).stream()
            .filter(p -> by.may(Right.LOOK, p.site().stage(), p.application()))
            .filter(p -> application == null || p.application().equals(application))
            .filter(p -> stage == null || p.site().stage().equals(stage))
            .map(Promotion::number)
            .toList();
    assertThat(found).extracting(PromotionHead::number).containsExactlyElementsOf(expected);
    assertThat(runs).extracting(RunHead::number).containsExactlyElementsOf(expected);
  }

  @ParameterizedTest
  @ValueSource(
      longs = {
        1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25
      })
  void historyIsWhatMayBeLookedBackOn(long seed) {
    Random random = new Random(seed);
    Person by = person(random);
    String application = random.nextInt(3) == 0 ? any(random, APPLICATIONS) : null;
    String stage = random.nextInt(3) == 0 ? any(random, STAGES) : null;
    String actor = random.nextInt(4) == 0 ? "bram" : null;
    Kept.HistorySight who =
        new Kept.HistorySight(
            Sight.of(by, Right.LOOK), by.login(), by.may(Right.AUDIT, Person.EVERY, Person.EVERY));

    List<HistoryEntry> found =
        all(
            from ->
                keeper.read(
                    kept ->
                        kept.history(
                            new Kept.HistoryFilter(application, stage, null, actor, from, PART),
                            who)));

    List<Long> expected =
        keeper.read(kept -> kept.history(Kept.HistoryFilter.part(0, MANY))).stream()
            .filter(e -> maySee(by, e))
            .filter(e -> application == null || application.equals(e.application()))
            .filter(e -> stage == null || stage.equals(e.stage()))
            .filter(e -> actor == null || actor.equals(e.actor()))
            .map(HistoryEntry::sequence)
            .toList();
    assertThat(found).extracting(HistoryEntry::sequence).containsExactlyElementsOf(expected);
  }

  private static boolean maySee(Person by, HistoryEntry e) {
    if (e.stage() == null && e.application() == null) {
      return by.may(Right.AUDIT, Person.EVERY, Person.EVERY) || e.actor().equals(by.login());
    }
    return by.may(
        Right.LOOK,
        e.stage() == null ? Person.ANY : e.stage(),
        e.application() == null ? Person.ANY : e.application());
  }

  @Test
  void whoMaySeeNothingSeesNothing() {
    Person nobody = Person.invited("x", "X", "", false);
    Person out =
        Person.invited("y", "Y", "", false)
            .withGrants(List.of(new Person.Grant(Right.LOOK, "*", "*")))
            .withDisabled(true);

    for (Person by : List.of(nobody, out)) {
      Slice<PromotionHead> found =
          keeper.read(kept -> kept.promotions().heads(Kept.Filter.all(), Sight.of(by, Right.LOOK)));
      assertThat(found).isEqualTo(Slice.whole(List.of()));
    }
  }

  /** What a list shows is what the record says, after every change. */
  @Test
  void headsFollowTheirRecords() {
    Kept.Filter newest = Kept.Filter.all().part(0, 1);
    Promotion p = keeper.read(kept -> kept.promotions().find(String.valueOf(MANY))).orElseThrow();
    Run r = keeper.read(kept -> kept.runs().find(String.valueOf(MANY))).orElseThrow();

    Promotion ready =
        p.change()
            .state(PromotionState.READY)
            .compared(
                new Promotion.Look(
                    new SemVer("0.9.0"),
                    null,
                    "c-1",
                    Instant.EPOCH,
                    List.of(),
                    3,
                    List.of(),
                    List.of()))
            .done();
    keeper.write(
        kept -> {
          kept.promotions().replace(ready);
          kept.runs().replace(r.withState(RunState.RUNNING, Instant.EPOCH, null));
          return null;
        });

    assertThat(
            keeper.read(kept -> kept.promotions().heads(newest, Sight.EVERYWHERE)).items().get(0))
        .isEqualTo(PromotionHead.of(ready));
    assertThat(keeper.read(kept -> kept.runs().heads(newest, Sight.EVERYWHERE)).items().get(0))
        .isEqualTo(RunHead.of(r.withState(RunState.RUNNING, Instant.EPOCH, null), Purpose.VERSION));
    assertThat(keeper.read(kept -> kept.promotions().find(String.valueOf(MANY))).orElseThrow())
        .usingRecursiveComparison()
        .ignoringFields("revision")
        .isEqualTo(ready);
    keeper.write(
        kept -> {
          kept.promotions()
              .replace(
                  kept.promotions()
                      .find(String.valueOf(MANY))
                      .orElseThrow()
                      .change()
                      .state(PromotionState.PREPARING)
                      .done());
          return null;
        });
  }
}
