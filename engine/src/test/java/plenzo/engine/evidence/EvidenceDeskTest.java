package plenzo.engine.evidence;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.person;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.evidence.Evidence;
import plenzo.core.manual.ManualStep;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.KitTest;

/** Files about a run: kept whole, read where they say something, and handed out to few. */
class EvidenceDeskTest extends KitTest {
  private static final String GOOD =
      "<testsuite name='quotes'><testcase name='night'/></testsuite>";
  private Run run;

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    run = kit.bring("1.1.0");
  }

  private Evidence give(Person by, String text) {
    return give(by, new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), 0);
  }

  private Evidence give(Person by, InputStream in, int step) {
    try {
      return kit.engine()
          .evidence()
          .give(by, new EvidenceDesk.About(run.number(), step, "report.xml", "night quotes"), in);
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  private static void refused(Runnable act, String code) {
    assertThatThrownBy(act::run)
        .isInstanceOfSatisfying(Problem.class, e -> assertThat(e.code()).isEqualTo(code));
  }

  @Test
  void aTestReportIsReadAndKeptAsItIs() throws IOException {
    Evidence e = give(kit.bram, GOOD);

    assertThat(e.report()).isNotNull();
    assertThat(e.report().words()).isEqualTo("1 test, none failed");
    assertThat(e.bytes()).isEqualTo(GOOD.length());
    assertThat(e.version()).isEqualTo(new SemVer("1.1.0"));
    try (InputStream in = kit.engine().evidence().open(kit.ines, e.number())) {
      assertThat(new String(in.readAllBytes(), StandardCharsets.UTF_8)).isEqualTo(GOOD);
    }
    assertThat(kit.history().get(0).text())
        .contains("E-1 report.xml, SHA-256 " + e.digest().hex(), "1 test, none failed");
  }

  @Test
  void anyOtherFileIsKeptWithoutAWordAboutTests() {
    assertThat(give(kit.bram, "a picture").report()).isNull();
  }

  @Test
  void whatIsEmptyOrTooLargeIsNotKept() {
    refused(() -> give(kit.bram, ""), "EMPTY");
    InputStream endless =
        new InputStream() {
          @Override
          public int read() {
            return 'x';
          }

          @Override
          public int read(byte[] bytes, int from, int length) {
            java.util.Arrays.fill(bytes, from, from + length, (byte) 'x');
            return length;
          }
        };
    refused(() -> give(kit.bram, endless, 0), "TOO_LARGE");

    assertThat(
            kit.engine().evidence().list(kit.ines, plenzo.core.keeping.Kept.Filter.all()).items())
        .isEmpty();
    assertThat(kit.engine().tools().files().list("evidence")).as("no bytes are left").isEmpty();
  }

  @Test
  void whoMayNeitherJudgeNorRunGivesNone() {
    refused(() -> give(person("otto", Right.LOOK), GOOD), "NOT_ALLOWED");
    assertThat(give(person("tove", Right.LOOK, Right.JUDGE), GOOD).by()).isEqualTo("tove");
  }

  @Test
  void itIsTakenByWhoMaySeeValuesAndByWhoGaveIt() {
    Person tove = person("tove", Right.LOOK, Right.JUDGE);
    Evidence e = give(tove, GOOD);
    refused(
        () -> kit.engine().evidence().open(person("otto", Right.LOOK), e.number()), "NOT_ALLOWED");
    assertThat(kit.engine().evidence().open(tove, e.number())).isNotNull();
    refused(() -> kit.engine().evidence().get(person("nobody", Right.JUDGE), 9), "NOT_FOUND");
  }

  @Test
  void aVerdictNamesWhatShowsItAndNothingElse() {
    Evidence e = give(kit.bram, GOOD);
    refused(
        () ->
            kit.engine()
                .verdicts()
                .judge(kit.bram, "fares", SITE, new SemVer("1.0.0"), true, "ok", List.of(1L)),
        "NOT_ITS_EVIDENCE");
    refused(
        () ->
            kit.engine()
                .verdicts()
                .judge(kit.bram, "fares", SITE, new SemVer("1.1.0"), true, "ok", List.of(9L)),
        "NOT_ITS_EVIDENCE");

    kit.engine()
        .verdicts()
        .judge(kit.bram, "fares", SITE, new SemVer("1.1.0"), true, "ok", List.of(e.number()));

    assertThat(kit.record().verdict(new SemVer("1.1.0")).orElseThrow().evidence())
        .containsExactly(1L);
    assertThat(kit.history().get(0).text()).isEqualTo("ok (shown by E-1)");
  }

  @Test
  void workByHandThatAsksForAFileIsNotDoneWithoutIt() {
    kit.development().row("fares.band", plenzo.engine.kit.EngineKit.row("PEAK", "26.00"));
    kit.sealFrom(
        "1.2.0", "1.1.0", List.of(new ManualStep(When.AFTER, "", "Hang up", "", 0, true, false)));
    Evidence other = give(kit.bram, "of another run");
    run = kit.bring("1.2.0");
    int step = run.steps().size();
    refused(() -> kit.engine().runs().steering().done(kit.bram, run.number(), step, "up"), "PROOF");
    refused(
        () ->
            kit.engine().runs().steering().done(kit.bram, run.number(), step, "up", other.number()),
        "NOT_ITS_EVIDENCE");

    long photo =
        give(kit.bram, new ByteArrayInputStream("photo".getBytes(StandardCharsets.UTF_8)), step)
            .number();
    kit.engine().runs().steering().done(kit.bram, run.number(), step, "up", photo);
    kit.settleDown();

    Run done = kit.run(run.number());
    assertThat(done.state()).isEqualTo(RunState.DONE);
    assertThat(done.steps().get(step - 1).requireManual().word().evidence()).isEqualTo(photo);
  }
}
