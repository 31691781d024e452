package plenzo.engine.evidence;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.evidence.TestReport;

/** What a file says of tests, and what is none. */
class TestReportFileTest {
  private static Optional<TestReport> read(String text) {
    return TestReportFile.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)));
  }

  @Test
  void countsCasesAndNotWhatSuitesClaim() {
    TestReport r =
        read("""
                <?xml version="1.0"?>
                <testsuites tests="0" failures="0">
                  <testsuite name="quotes" tests="99" failures="0">
                    <testcase classname="Quote" name="night"/>
                    <testcase classname="Quote" name="pets"><failure message="13.80 is not 0">at …</failure></testcase>
                    <testcase classname="Quote" name="cars"><error message="no answer"/></testcase>
                    <testcase classname="Quote" name="winter"><skipped/></testcase>
                  </testsuite>
                  <testsuite name="none"/>
                </testsuites>
                """)
            .orElseThrow();

    assertThat(r.suites()).containsExactly(new TestReport.Suite("quotes", 4, 1, 1, 1));
    assertThat(r.words()).isEqualTo("4 tests, 2 failed, 1 skipped");
    assertThat(r.passed()).isFalse();
    assertThat(r.failed())
        .containsExactly(
            new TestReport.Failed("quotes", "Quote pets", "13.80 is not 0"),
            new TestReport.Failed("quotes", "Quote cars", "no answer"));
  }

  @Test
  void oneSuiteMayStandAloneAndSuitesMayLieInOneAnother() {
    TestReport r =
        read("<testsuite name='a'><testcase name='1'/><testsuite name='b'><testcase name='2'/>"
                + "</testsuite><testcase name='3'/></testsuite>")
            .orElseThrow();
    assertThat(r.suites()).extracting(s -> s.name() + s.tests()).containsExactly("a2", "b1");
    assertThat(r.passed()).isTrue();
    assertThat(r.words()).isEqualTo("3 tests, none failed");
  }

  @Test
  void aReportThatTriedNothingDidNotPass() {
    assertThat(read("<testsuite name='a'/>").orElseThrow().passed()).isFalse();
    assertThat(
            read("<testsuite name='a'><testcase name='1'><skipped/></testcase></testsuite>")
                .orElseThrow()
                .passed())
        .isFalse();
  }

  @Test
  void whatIsSaidInsideOutputIsNoResult() {
    TestReport r =
        read("<testsuite name='a'><testcase name='1'><system-out><failure message='not really'/>"
                + "</system-out></testcase></testsuite>")
            .orElseThrow();
    assertThat(r.passed()).isTrue();
  }

  @Test
  void oneCaseThatSaysFailureAndErrorIsOne() {
    TestReport r =
        read("<testsuite name='a'><testcase name='1'><failure/><error/></testcase></testsuite>")
            .orElseThrow();
    assertThat(r.bad()).isEqualTo(1);
  }

  @Test
  void namesAreBounded() {
    StringBuilder text = new StringBuilder("<testsuite name='a'>");
    for (int n = 0; n < 60; n++) {
      text.append("<testcase name='" + "x".repeat(600) + "'><failure/></testcase>");
    }
    TestReport r = read(text + "</testsuite>").orElseThrow();
    assertThat(r.bad()).isEqualTo(60);
    assertThat(r.failed()).hasSize(TestReport.MOST_NAMED);
    assertThat(r.failed().get(0).test()).hasSize(501).endsWith("…");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "not xml",
        "<html/>",
        "<testsuite>",
        "<testcase name='1'/>",
        "<testsuites><testcase name='1'/></testsuites>",
        "<!DOCTYPE testsuite [<!ENTITY x SYSTEM 'file:///etc/passwd'>]><testsuite name='&x;'/>",
        "<!DOCTYPE testsuite SYSTEM 'http://127.0.0.1:1/x.dtd'><testsuite name='a'/>",
        "<testsuite name='a'><testcase name='1'>"
      })
  void whatIsNoReportIsNone(String text) {
    assertThat(read(text)).isEmpty();
  }
}
