package plenzo.core.target;

import java.time.Duration;
import java.util.List;
import java.util.Map;

/** Reads pages by their addresses, and asks them. */
public interface Pages {
  /**
   * The text of a page; redirects are not followed, and what is longer than a megabyte is refused.
   *
   * @param page its address, http or https
   * @param addresses what the name leads to, judged already, as digits; without TLS the first is
   *     asked and the name no second time
   * @throws TargetFailed when there is no answer of status 200
   */
  String read(String page, List<String> addresses);

  /**
   * Posts a JSON document and returns the answer's text, bounded like a page.
   *
   * @param within from the first byte sent to the last one of the answer
   * @throws TargetFailed when there is no answer of status 200 within that time
   */
  String post(String page, List<String> addresses, String document, Duration within);

  /**
   * Posts a document with headers; any status from 200 to 299 takes it.
   *
   * @throws TargetFailed when it was not taken within that time
   */
  void tell(
      String page,
      List<String> addresses,
      String document,
      Duration within,
      Map<String, String> headers);
}
