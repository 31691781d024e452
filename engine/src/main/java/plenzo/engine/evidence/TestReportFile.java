package plenzo.engine.evidence;

import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.jspecify.annotations.Nullable;
import plenzo.core.evidence.TestReport;
import plenzo.core.evidence.TestReport.Failed;
import plenzo.core.evidence.TestReport.Suite;

/** One pass over a file that may be a test report in the JUnit XML format. */
final class TestReportFile {
  private static final int MOST_SUITES = 500;

  /** Cases of one file (guess: more is no test report). */
  private static final int MOST_CASES = 500_000;

  private static final int LONGEST = 500;

  private final XMLStreamReader xml;
  private final List<Suite> suites = new ArrayList<>();
  private final List<Failed> failed = new ArrayList<>();
  private final List<Integer> open = new ArrayList<>();
  private int cases;
  private boolean root = true;

  private TestReportFile(XMLStreamReader xml) {
    this.xml = xml;
  }

  /**
   * Reads a file; empty when it is none of the format, however it is broken. Documents with a
   * document type are none: nothing outside is ever read.
   */
  static Optional<TestReport> read(InputStream in) {
    XMLInputFactory factory = XMLInputFactory.newDefaultFactory();
    factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
    factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
    factory.setProperty(XMLInputFactory.IS_COALESCING, false);
    try {
      return new TestReportFile(factory.createXMLStreamReader(in)).report();
    } catch (XMLStreamException | IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  private Optional<TestReport> report() throws XMLStreamException {
    while (xml.hasNext()) {
      int event = xml.next();
      if (event == XMLStreamConstants.DTD) {
        return Optional.empty();
      }
      if (event == XMLStreamConstants.START_ELEMENT) {
        String name = xml.getLocalName();
        if (root && !name.equals("testsuites") && !name.equals("testsuite")) {
          return Optional.empty();
        }
        root = false;
        if (name.equals("testsuite")) {
          begin();
        } else if (name.equals("testcase")) {
          one();
        }
      } else if (event == XMLStreamConstants.END_ELEMENT
          && xml.getLocalName().equals("testsuite")) {
        open.remove(open.size() - 1);
      }
    }
    return Optional.of(new TestReport(suites.stream().filter(s -> s.tests() > 0).toList(), failed));
  }

  private void begin() {
    if (suites.size() == MOST_SUITES) {
      throw new IllegalArgumentException("more than " + MOST_SUITES + " suites");
    }
    open.add(suites.size());
    suites.add(new Suite(cut(attribute("name")), 0, 0, 0, 0));
  }

  private void one() throws XMLStreamException {
    if (open.isEmpty() || ++cases > MOST_CASES) {
      throw new IllegalArgumentException("a case without a suite, or too many");
    }
    int at = open.get(open.size() - 1);
    String test = cut((attribute("classname") + " " + attribute("name")).strip());
    int failure = 0;
    int error = 0;
    int skip = 0;
    String message = "";
    for (int depth = 1; depth > 0; ) {
      int event = xml.next();
      if (event == XMLStreamConstants.START_ELEMENT) {
        String name = xml.getLocalName();
        boolean direct = depth == 1;
        failure |= direct && name.equals("failure") ? 1 : 0;
        error |= direct && name.equals("error") ? 1 : 0;
        skip |= direct && name.equals("skipped") ? 1 : 0;
        if (direct && (name.equals("failure") || name.equals("error")) && message.isEmpty()) {
          message = cut(attribute("message"));
        }
        depth++;
      } else if (event == XMLStreamConstants.END_ELEMENT) {
        depth--;
      }
    }
    error &= 1 - failure; // said as both it is one case that failed
    suites.set(at, suites.get(at).and(failure, error, skip));
    if (failure + error > 0 && failed.size() < TestReport.MOST_NAMED) {
      failed.add(new Failed(suites.get(at).name(), test, message));
    }
  }

  private String attribute(String name) {
    @Nullable String value = xml.getAttributeValue(null, name);
    return value == null ? "" : value;
  }

  private static String cut(String text) {
    return text.length() <= LONGEST ? text : text.substring(0, LONGEST) + "…";
  }
}
